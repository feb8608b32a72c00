import { useNavigate } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { useJoin } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { ProblemNote } from "../../parts/ProblemNote"

type Machine = Schemas["RoomMachine"]

/** Two names for one machine: what this one was, the other is from now on. */
export function JoinMachine({ machine, all }: { machine: Machine; all: Machine[] }) {
  const others = all.filter((each) => each.id !== machine.id && each.demo === machine.demo)
  const [into, setInto] = useState("")
  const join = useJoin()
  const navigate = useNavigate()
  const other = others.find((each) => each.id === into)
  if (others.length === 0) return <p className="text-13 text-mute">There is no other one.</p>
  return (
    <>
      <ChoiceField
        label="It is really"
        value={into}
        options={[
          { value: "", words: "choose" },
          ...others.map((each) => ({ value: each.id, words: each.name })),
        ]}
        onValue={setInto}
      />
      {other && (
        <ActButton
          type="button"
          className="btn btn-sm mt-2"
          busy={join.isPending}
          onClick={() =>
            join.mutate(
              { id: machine.id, into_id: other.id },
              {
                onSuccess: () => void navigate({ to: "/room", search: { machine: other.id } }),
              },
            )
          }
        >
          Join it to {other.name}
        </ActButton>
      )}
      <ProblemNote error={join.error} />
      <p className="mt-1 text-12 text-mute">
        Its runs stay in their shootouts; each setup can be parted again.
      </p>
    </>
  )
}
