import { useBringRoom } from "../../api/room"
import { PickFile } from "../../parts/PickFile"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import { count } from "../../theme/format"

/** Saves the store room as a file, and brings a saved one in: what is here stays as it is. */
export function RoomFile() {
  const bring = useBringRoom()
  const came = bring.data
  return (
    <div className="max-w-3xl text-14">
      <p>
        <a className="underline" href="/api/v1/room/file" download="store-room.json">
          Save the store room
        </a>{" "}
        <span className="text-13 text-mute">
          machines, standing tasks and the house as one file (.json); runs are in the data packs
        </span>
      </p>
      <div className="mt-3">
        <PickFile
          label="Import a saved store room"
          accept="application/json,.json"
          onFile={(file) => void file.text().then((text) => bring.mutate(text))}
        />
      </div>
      {came && (
        <p {...SPOKEN} className="mt-2 text-13">
          {count(came.machines, "machine")} and {count(came.tasks, "standing task")} came in.
          {came.known.length > 0 && ` Here already: ${came.known.join(", ")}.`}
        </p>
      )}
      <ProblemNote error={bring.error} />
    </div>
  )
}
