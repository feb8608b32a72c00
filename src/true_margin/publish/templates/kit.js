"use strict"
const asked = JSON.parse(document.getElementById("asked").textContent)
const form = document.getElementById("form")
const wrong = document.getElementById("wrong")
const hex = (bytes) => [...new Uint8Array(bytes)].map((each) => each.toString(16).padStart(2, "0")).join("")
const utf8 = (text) => new TextEncoder().encode(text)
const HAND_S = 0.15

/** Reads a time; null where it is none. */
function seconds(text) {
  const parts = /^(?:(?:(\d{1,2}):)?(\d{1,3}):)?(\d{1,6})(?:[.,](\d{1,3}))?$/.exec(text)
  if (!parts) return null
  const [, hours, minutes, whole, part] = parts
  if (minutes !== undefined && Number(whole) > 59) return null
  const told = 3600 * Number(hours ?? 0) + 60 * Number(minutes ?? 0) + Number(`${whole}.${part ?? 0}`)
  return told > 0 ? told : null
}

function run(text) {
  if (/^failed/i.test(text)) {
    const reason = text.replace(/^failed[\s:,.-]*/i, "").slice(0, 300) || null
    return { seconds: null, u: 0, method: "stopwatch", status: "failed", reason }
  }
  const told = seconds(text)
  if (told === null) throw new Error(`“${text}” is no time: type it as 4:31.5`)
  return { seconds: told, u: HAND_S, method: "stopwatch", status: "ok", reason: null }
}

function tasks() {
  return [...form.querySelectorAll("fieldset")].flatMap((part) => {
    const typed = [...part.querySelectorAll("[name=run]")].map((each) => each.value.trim()).filter(Boolean)
    if (typed.length === 0) return []
    return [{ task: part.dataset.task, app_version: part.querySelector("[name=version]").value.trim() || null, runs: typed.map(run) }]
  })
}

function specs() {
  const lines = form.parts.value.split("\n").map((line) => line.trim().slice(0, 190)).filter(Boolean)
  return Object.fromEntries(lines.slice(0, 12).map((line, place) => [`as typed ${place + 1}`, line]))
}

async function sealed(result) {
  const secret = Uint8Array.from(asked.secret.match(/../g), (pair) => Number.parseInt(pair, 16))
  const key = await crypto.subtle.importKey("raw", secret, { name: "HMAC", hash: "SHA-256" }, false, ["sign"])
  const seal = hex(await crypto.subtle.sign("HMAC", key, utf8(result)))
  return JSON.stringify({ trueMarginResult: 1, result, seal }, null, 1)
}

form.addEventListener("submit", async (event) => {
  event.preventDefault()
  wrong.textContent = ""
  try {
    const done = tasks()
    if (done.length === 0) throw new Error("Type at least one time.")
    const word = [0, 0, 0].map(() => hex(crypto.getRandomValues(new Uint8Array(2)))).join("-")
    const code = hex(await crypto.subtle.digest("SHA-256", utf8(word)))
    const result = JSON.stringify({
      kit: asked.kit, made_at: new Date().toISOString(), sender: form.sender.value.trim() || null,
      model: form.model.value.trim(), note: form.note.value.trim() || null, consent: asked.consent, code,
      specs: specs(), versions: { "made by": "form of the kit", browser: navigator.userAgent.slice(0, 190) },
      tasks: done, log: "",
    })
    const link = document.createElement("a")
    link.href = URL.createObjectURL(new Blob([await sealed(result)], { type: "application/json" }))
    link.download = `result-${new Date().toISOString().slice(0, 19).replace(/[T:]/g, "-")}.json`
    link.click()
    document.getElementById("saved").textContent =
      `Saved as ${link.download}. Send it to whoever gave you the kit. Your code is ${word}: keep it. Whoever knows it may ask that the result is erased; it stands in no file.`
  } catch (error) {
    wrong.textContent = error.message
  }
})
