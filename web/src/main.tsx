import { QueryClientProvider } from "@tanstack/react-query"
import { RouterProvider } from "@tanstack/react-router"
import { StrictMode } from "react"
import { createRoot } from "react-dom/client"
import { queryClient } from "./api/queries"
import { keepFocus } from "./reach/focus"
import { fetchStages, router } from "./router"
import "./theme/app.css"

const place = document.getElementById("root")
if (place === null) throw new Error("The page has no place for the app.")
createRoot(place).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
)

keepFocus()
fetchStages()
