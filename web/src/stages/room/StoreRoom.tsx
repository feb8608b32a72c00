import { useQuery } from "@tanstack/react-query"
import { Link, useNavigate, useSearch } from "@tanstack/react-router"
import { useCallback, useEffect } from "react"
import type { Schemas } from "../../api/client"
import { roomQuery } from "../../api/room"
import { HomeTop } from "../../frame/HomeTop"
import { Fold } from "../../parts/Fold"
import { ProblemNote } from "../../parts/ProblemNote"
import { count, day } from "../../theme/format"
import { AddRoomMachine } from "./AddRoomMachine"
import { House } from "./House"
import { MachineNote } from "./MachineNote"
import { comesBack, Offers } from "./Offers"
import { RoomFile } from "./RoomFile"
import { StandingTask } from "./StandingTask"

/** What outlives one shootout: machines, standing tasks, and what every new one begins with. */
export function StoreRoom() {
  const { data: room, error } = useQuery(roomQuery)
  const { machine } = useSearch({ from: "/room" })
  const navigate = useNavigate()
  const close = useCallback(() => void navigate({ to: "/room", search: {} }), [navigate])
  useEffect(() => {
    document.title = "Store room · True Margin"
  }, [])
  const open = room?.machines.find((each) => each.id === machine)
  return (
    <div className="flex min-h-screen flex-col md:h-screen">
      <HomeTop />
      <div className="flex min-h-0 flex-1">
        <main className="min-w-0 flex-1 px-4 pt-5 pb-10 md:overflow-y-auto md:px-6">
          <div className="mx-auto max-w-5xl">
            <ProblemNote error={error} />
            {room && <Held room={room} open={open?.id} />}
          </div>
        </main>
        {room && open && (
          <MachineNote key={open.id} machine={open} all={room.machines} onClose={close} />
        )}
      </div>
    </div>
  )
}

function Held({ room, open }: { room: Schemas["Room"]; open: string | undefined }) {
  const empty = room.machines.length === 0 && room.tasks.length === 0
  return (
    <>
      <h1 className="text-26 leading-8">
        {empty
          ? "The store room is empty."
          : `${count(room.machines.length, "machine")}, ${count(room.tasks.length, "standing task")}.`}
      </h1>
      <p className="mt-1 max-w-3xl text-mute">
        Machines and jobs that come back from one shootout to the next. Say once which are the same,
        and every time you ever took on them counts together. No run is moved or changed by it.
      </p>
      {comesBack(room) && <Offers room={room} />}
      {room.machines.length > 0 && (
        <section className="mt-6">
          <h2 className="text-17">Machines</h2>
          <ul className="border-t border-base-content">
            {room.machines.map((machine) => (
              <MachineRow key={machine.id} machine={machine} open={machine.id === open} />
            ))}
          </ul>
        </section>
      )}
      {room.tasks.length > 0 && (
        <section className="mt-6">
          <h2 className="text-17">Standing tasks</h2>
          <ul className="border-t border-base-content">
            {room.tasks.map((task) => (
              <StandingTask key={task.id} task={task} />
            ))}
          </ul>
        </section>
      )}
      <div className="mt-6">
        {!comesBack(room) && <Offers room={room} />}
        <Fold title="Add a machine that no shootout has yet">
          <AddRoomMachine />
        </Fold>
        <Fold title="The house: what every new shootout begins with">
          <House />
        </Fold>
        <Fold title="Save the store room, or import one">
          <RoomFile />
        </Fold>
      </div>
    </>
  )
}

function MachineRow({ machine, open }: { machine: Schemas["RoomMachine"]; open: boolean }) {
  const facts = [machine.model, machine.sample].filter(Boolean).join(", ")
  const states = machine.states.map((each) => each.state)
  return (
    <li className={`border-b border-line ${open ? "bg-base-200" : ""}`}>
      <Link
        to="/room"
        search={{ machine: machine.id }}
        aria-current={open ? "true" : undefined}
        className="room-row py-2 hover:bg-base-200"
      >
        <span className="min-w-0">
          <span className="block font-head text-15 leading-5 font-bold break-words">
            {machine.name}
            {machine.demo && <span className="font-normal text-mute"> (demo)</span>}
          </span>
          {facts && <span className="block text-13 text-mute">{facts}</span>}
        </span>
        <span className="min-w-0 text-13">
          {machine.keeping}
          {machine.until && ` until ${day(machine.until)}`}
        </span>
        <span className="min-w-0 text-13 break-words text-mute">
          {states.length > 3
            ? `${states.slice(0, 3).join(", ")} and ${states.length - 3} more`
            : states.join(", ")}
        </span>
        <span className="text-13">{count(machine.shootouts, "shootout")}</span>
        {machine.changes.length > 0 && (
          <span className="col-span-full text-13 text-accent">{machine.changes.join("; ")}</span>
        )}
      </Link>
    </li>
  )
}
