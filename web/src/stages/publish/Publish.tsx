import { useParams, useSearch } from "@tanstack/react-router"
import { useReading } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { ViewLine } from "../../parts/ViewLine"
import { Cards } from "./Cards"
import { GiveAway } from "./GiveAway"
import { PublicPage } from "./PublicPage"
import { ScriptView } from "./ScriptView"
import { Shots } from "./Shots"

const VIEWS = [
  { id: "script", title: "Script check" },
  { id: "cards", title: "Cards" },
  { id: "shots", title: "Shot list" },
  { id: "give", title: "Downloads" },
  { id: "public", title: "Public page" },
]

/** Says only what holds, shows it well, and gives the data away. */
export function Publish() {
  const { slug } = useParams({ from: "/s/$slug/publish" })
  const search = useSearch({ from: "/s/$slug/publish" })
  // Secret links are for those who make them.
  const reading = useReading()
  const views = VIEWS.filter((each) => !reading || each.id !== "public")
  const current = views.find((each) => each.id === search.view)?.id ?? "script"
  return (
    <StagePage title="Publish" aside="check every claim before you say it">
      <ViewLine
        slug={slug}
        stage="/s/$slug/publish"
        views={views}
        current={current}
        search={(id): Record<string, string> => (id === "script" ? {} : { view: id })}
      />
      {current === "script" && <ScriptView slug={slug} />}
      {current === "cards" && <Cards slug={slug} chosen={search.card} />}
      {current === "shots" && <Shots slug={slug} />}
      {current === "give" && <GiveAway slug={slug} />}
      {current === "public" && <PublicPage slug={slug} />}
    </StagePage>
  )
}
