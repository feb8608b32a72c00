// Runs before the first paint, so that a dark studio never sees a white flash.
try {
  const chosen = localStorage.getItem("tm-theme")
  const dark = matchMedia("(prefers-color-scheme: dark)").matches
  document.documentElement.dataset.theme = chosen || (dark ? "nightbench" : "daybench")
} catch {
  document.documentElement.dataset.theme = "daybench"
}
