import { useCombobox } from "downshift"
import type { KeyboardEvent } from "react"
import type { Offer } from "./OfferList"

type Pressed = (event: KeyboardEvent<HTMLInputElement>) => void
/** Keys that mean nothing to the list: Escape leaves the field, the others move in the text. */
const OTHERS = ["Escape", "Home", "End"]

/**
 * A field that offers what fits the text typed so far, as a combobox that every voice and key
 * knows. What is offered is taken by a click, and by keys as the field wishes.
 */
export function useOffers<Each extends Offer>({
  offers,
  text,
  open,
  onType,
  onTake,
}: {
  offers: Each[]
  /** The text as it stands. */
  text: string
  open: boolean
  onType: (text: string) => void
  /** Takes the offer at a place. */
  onTake: (place: number) => void
}) {
  const combobox = useCombobox<Each>({
    items: offers,
    itemToString: (offer) => offer?.words ?? "",
    inputValue: text,
    isOpen: open,
    selectedItem: null,
    defaultHighlightedIndex: 0,
    // What was offered first is meant again once something else is typed.
    stateReducer: (_, { type, changes }) =>
      type === useCombobox.stateChangeTypes.InputChange
        ? { ...changes, highlightedIndex: 0 }
        : changes,
    onStateChange: ({ type }) => {
      const { ItemClick, InputKeyDownEnter } = useCombobox.stateChangeTypes
      if (type === ItemClick || type === InputKeyDownEnter) onTake(combobox.highlightedIndex)
    },
  })
  return {
    /** Place of the highlighted offer. */
    chosen: Math.max(0, Math.min(combobox.highlightedIndex, offers.length - 1)),
    choose: combobox.setHighlightedIndex,
    combobox,
    /** What the field's element needs. */
    field: (more: Parameters<typeof combobox.getInputProps>[0] & { onKeyDown?: Pressed }) =>
      combobox.getInputProps({
        "aria-labelledby": undefined,
        onChange: (event) => onType(event.currentTarget.value),
        ...more,
        onKeyDown: (event) => {
          // These are the page's and the text's own.
          if (OTHERS.includes(event.key)) {
            Object.assign(event.nativeEvent, { preventDownshiftDefault: true })
          }
          more?.onKeyDown?.(event)
        },
      }),
  }
}
