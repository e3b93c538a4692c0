import { useHotkeys } from 'react-hotkeys-hook'

/** A key of the page; not while something is typed, nor while a dialog is open. */
export const useKey = (keys: string, act: () => void, enabled = true): void => {
  useHotkeys(
    keys,
    event => {
      if (document.querySelector('[role="dialog"][data-state="open"]')) return
      event.preventDefault()
      act()
    },
    { enabled, useKey: keys === '?' || keys === '/' },
    [act, enabled],
  )
}
