/** Signing in by a passkey: the one thing on the sign-in page that a form cannot do. */
const place = document.getElementById("passkey")
const note = place.querySelector("[role=alert]")
const button = place.querySelector("button")

const send = async (path, body) => {
  const answer = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  })
  const told = await answer.json()
  if (!answer.ok) throw new Error(told.detail)
  return told
}

const signIn = async () => {
  const options = await send("/sign-in/passkey/begin", {})
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(options)
  const credential = await navigator.credentials.get({ publicKey })
  await send("/sign-in/passkey", credential.toJSON())
  location.assign(place.dataset.next)
}

button.addEventListener("click", async () => {
  button.disabled = true
  note.textContent = ""
  try {
    await signIn()
  } catch (error) {
    // A person who closed the browser's own question knows why; nothing else is told then.
    const closed = error instanceof DOMException && error.name === "NotAllowedError"
    note.textContent = closed ? "No passkey was given." : error.message
    button.disabled = false
  }
})

// A browser that cannot read the options as sent is offered the password alone.
if (window.PublicKeyCredential?.parseRequestOptionsFromJSON) place.hidden = false
