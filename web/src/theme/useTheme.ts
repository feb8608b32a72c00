import { useEffect, useState } from "react"

export type ThemeName = "daybench" | "nightbench"

function current(): ThemeName {
  return document.documentElement.dataset.theme === "nightbench" ? "nightbench" : "daybench"
}

/** The theme in use, and a switch that is remembered on this device. */
export function useTheme(): [ThemeName, () => void] {
  const [theme, setTheme] = useState<ThemeName>(current)
  useEffect(() => {
    const system = matchMedia("(prefers-color-scheme: dark)")
    const follow = () => {
      if (localStorage.getItem("tm-theme")) return
      document.documentElement.dataset.theme = system.matches ? "nightbench" : "daybench"
      setTheme(current())
    }
    follow() // it may have changed between the first paint and now
    system.addEventListener("change", follow)
    return () => system.removeEventListener("change", follow)
  }, [])
  const flip = () => {
    const next: ThemeName = theme === "daybench" ? "nightbench" : "daybench"
    document.documentElement.dataset.theme = next
    localStorage.setItem("tm-theme", next)
    setTheme(next)
  }
  return [theme, flip]
}
