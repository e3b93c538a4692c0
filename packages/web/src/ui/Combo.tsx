import { Combobox, createListCollection, mergeRefs, Portal } from '@chakra-ui/react'
import { type FocusEvent, type ReactNode, type Ref, useEffect, useMemo, useRef, useState } from 'react'

export interface ComboChoice {
  readonly value: string
  /** What it is called, where it is not seen. */
  readonly title: string
  readonly content: ReactNode
}

interface ComboProps {
  readonly label: string
  readonly placeholder: string
  readonly choices: readonly ComboChoice[]
  /** The choice that Enter takes to begin with; null: none is taken without being pointed at. */
  readonly first: string | null
  /** What stands in the field. */
  readonly text: string
  readonly onText: (text: string) => void
  readonly open: boolean
  readonly onOpen: (open: boolean) => void
  readonly onTake: (value: string) => void
  readonly onFocus?: (event: FocusEvent<HTMLInputElement>) => void
  /** Once something is taken the field is left: then keys are the page's again. Else one goes on from it, and leaves it by Escape. */
  readonly leaves?: boolean
  /** Stands where no choice is. */
  readonly empty?: ReactNode
  /** Width of the list. */
  readonly listWidth: string
  readonly inputRef?: Ref<HTMLInputElement>
  readonly children?: ReactNode
}

/** A field in which one types to choose from what fits: Enter takes, Escape leaves it as it was. */
export const Combo = (props: ComboProps) => {
  const { choices, first, open, onText, onOpen, onTake } = props
  const collection = useMemo(
    () => createListCollection({ items: [...choices], itemToValue: one => one.value, itemToString: one => one.title }),
    [choices],
  )
  const input = useRef<HTMLInputElement>(null)
  const [at, setAt] = useState<string | null>(first)
  // Also when the choices come later than what is typed.
  useEffect(() => setAt(open ? first : null), [first, open])
  return (
    <Combobox.Root
      collection={collection}
      value={nothing}
      inputValue={props.text}
      open={open}
      highlightedValue={at}
      // It lets go of what is pointed at as it opens and as one types: then it is the first again.
      onHighlightChange={details => setAt(details.highlightedValue ?? first)}
      // What it writes itself, as it closes, is not typed.
      onInputValueChange={details => (details.reason === 'input-change' ? onText(details.inputValue) : undefined)}
      onOpenChange={details => {
        onOpen(details.open)
        // What stands in it then is written over by the next letter.
        if (!details.open) afterItsFocus(() => document.activeElement === input.current && input.current?.select())
      }}
      onValueChange={details => {
        const [taken] = details.value
        if (taken === undefined) return
        onTake(taken)
        if (props.leaves) afterItsFocus(() => input.current?.blur())
      }}
      openOnClick
      selectionBehavior="preserve"
      positioning={placing}
      lazyMount
      unmountOnExit
    >
      <Combobox.Control>
        <Combobox.Input
          ref={mergeRefs(input, props.inputRef)}
          aria-label={props.label}
          placeholder={props.placeholder}
          onFocus={event => {
            props.onFocus?.(event)
            onOpen(true)
          }}
          onKeyDown={event => {
            if (event.key === 'Escape' && !open) event.currentTarget.blur()
          }}
        />
        {props.children}
      </Combobox.Control>
      <Portal>
        <Combobox.Positioner>
          <Combobox.Content w={props.listWidth}>
            {choices.map(one => (
              <Combobox.Item key={one.value} item={one}>
                {one.content}
              </Combobox.Item>
            ))}
            {choices.length === 0 && props.empty ? <Combobox.Empty>{props.empty}</Combobox.Empty> : null}
          </Combobox.Content>
        </Combobox.Positioner>
      </Portal>
    </Combobox.Root>
  )
}

/** As its list closes, it takes the focus back with the next picture: what goes elsewhere goes after that, or it would open anew. */
const afterItsFocus = (act: () => void): void => {
  requestAnimationFrame(() => requestAnimationFrame(act))
}

const nothing: string[] = []
const placing = { placement: 'bottom-start', sameWidth: false, gutter: 2, fitViewport: true } as const
