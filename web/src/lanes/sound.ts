/** Short tones for what happens on the lanes while nobody looks. */
const SWITCH = "tm-sound"
const TONES = { ended: [880, 660], past: [520, 520, 520], count: [440], go: [880] }

export function soundOn(): boolean {
  return localStorage.getItem(SWITCH) !== "off"
}

export function setSound(on: boolean): void {
  localStorage.setItem(SWITCH, on ? "on" : "off")
}

/** Plays the tones of one kind; silent where the browser does not allow it. */
export function play(what: keyof typeof TONES): void {
  if (!soundOn() || typeof AudioContext === "undefined") return
  const context = new AudioContext()
  TONES[what].forEach((hertz, place) => {
    const tone = context.createOscillator()
    const gain = context.createGain()
    gain.gain.value = 0.08
    tone.frequency.value = hertz
    tone.connect(gain).connect(context.destination)
    tone.start(context.currentTime + 0.18 * place)
    tone.stop(context.currentTime + 0.18 * place + 0.12)
  })
  setTimeout(() => void context.close(), 1500)
}
