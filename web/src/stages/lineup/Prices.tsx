import { useSearch } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { useWithdrawPrice } from "../../api/prices"
import { Writes } from "../../parts/Reading"
import { NotePart } from "../../parts/SideNote"
import { WithdrawForm } from "../../parts/WithdrawForm"
import { count, day, money } from "../../theme/format"
import { AddPrice } from "./AddPrice"
import { PriceSteps } from "./PriceSteps"
import type { Machine } from "./specs"

type Price = Schemas["Price"]

/** All price records of a machine, newest first, and a form for one more; none is deleted. */
export function Prices({
  slug,
  machine,
  currency,
  priceDate,
}: {
  slug: string
  machine: Machine
  currency: string
  priceDate: string
}) {
  // Who came from a price wants to type one: the field is far down, and takes the focus.
  const { focus } = useSearch({ strict: false })
  return (
    <NotePart title="Prices">
      <PriceSteps prices={machine.prices} />
      <ul>
        {machine.prices.map((price) => (
          <OnePrice key={price.id} slug={slug} price={price} priceDate={priceDate} />
        ))}
        {machine.prices.length === 0 && <li className="text-mute">No price yet.</li>}
      </ul>
      {machine.withdrawn_prices.length > 0 && (
        <details className="mt-1 text-13 text-mute">
          <summary>{count(machine.withdrawn_prices.length, "price")} that count no more</summary>
          <ul>
            {machine.withdrawn_prices.map((price) => (
              <li key={price.id}>
                <s>
                  {money(price.amount)} {price.currency}
                </s>
                , {price.kind}, {day(price.dated)}: {price.withdrawn_why}
              </li>
            ))}
          </ul>
        </details>
      )}
      <Writes>
        <AddPrice
          slug={slug}
          machineId={machine.id}
          currency={currency}
          focused={focus === "price"}
        />
      </Writes>
    </NotePart>
  )
}

/** A price record with all that it says, and how it is put right. */
function OnePrice({ slug, price, priceDate }: { slug: string; price: Price; priceDate: string }) {
  const [doing, setDoing] = useState<"correct" | "withdraw" | null>(null)
  const done = () => setDoing(null)
  return (
    <li className="border-b border-line py-1">
      <span className="flex justify-between gap-2">
        <span className="min-w-0">
          {price.kind}, {day(price.dated)}
          <Said price={price} priceDate={priceDate} />
        </span>
        <span className="figure whitespace-nowrap">
          {money(price.amount)} <span className="text-12 text-mute">{price.currency}</span>
        </span>
      </span>
      {doing === null && (
        <Writes>
          {(["correct", "withdraw"] as const).map((what) => (
            <button
              key={what}
              type="button"
              aria-label={`${what === "correct" ? "Correct" : "Withdraw"} ${money(price.amount)} ${price.currency}`}
              className="mr-3 text-12 text-mute underline"
              onClick={() => setDoing(what)}
            >
              {what === "correct" ? "Correct" : "Withdraw"}
            </button>
          ))}
        </Writes>
      )}
      {doing === "correct" && (
        <>
          <AddPrice
            slug={slug}
            machineId={price.machine_id}
            currency={price.currency}
            corrects={price}
            onDone={done}
          />
          <button type="button" className="btn btn-ghost btn-sm mt-1" onClick={done}>
            Cancel
          </button>
        </>
      )}
      {doing === "withdraw" && <Withdraw slug={slug} price={price} onDone={done} />}
    </li>
  )
}

/** What a price says besides its amount. */
function Said({ price, priceDate }: { price: Price; priceDate: string }) {
  return (
    <span className="block text-13 break-words text-mute">
      {[price.source, price.configuration].filter(Boolean).join(", ")}
      {price.until &&
        (price.until < priceDate
          ? ` · offer ended ${day(price.until)}`
          : ` · offer until ${day(price.until)}`)}
      {price.coupon && ` · coupon ${price.coupon}`}
      {price.region && ` · good in ${price.region}`}
      {price.note && ` · ${price.note}`}
      {price.tax_included === false && " · without tax"}
      {price.shipping_included && " · with shipping"}
      {price.link && (
        <>
          {" · "}
          <a className="underline" href={price.link} rel="noreferrer noopener" target="_blank">
            offer
          </a>
        </>
      )}
      {price.paid_link && " · affiliate link"}
      {price.corrects_id && " · corrected"}
    </span>
  )
}

function Withdraw({ slug, price, onDone }: { slug: string; price: Price; onDone: () => void }) {
  const withdraw = useWithdrawPrice(slug)
  return (
    <WithdrawForm
      pending={withdraw.isPending}
      error={withdraw.error}
      onWithdraw={(why) => withdraw.mutate({ id: price.id, why }, { onSuccess: onDone })}
      onDone={onDone}
    />
  )
}
