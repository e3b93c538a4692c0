import { useEffect } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { announceKey, useSingleKeys } from './keysOfPage.ts'

const typedInto = (target: HTMLElement): boolean =>
  target.isContentEditable ||
  /^(TEXTAREA|SELECT)$/.test(target.tagName) ||
  (target instanceof HTMLInputElement && !/^(checkbox|radio|button|submit|reset|file)$/.test(target.type))

const pressedBy: Readonly<Record<string, string>> = {
  ' ': 'button, input, summary, [role=button], [role=checkbox], [role=switch], [role=option]',
  Enter: 'a[href], button, summary, [role=button], [role=option]',
  ArrowDown: 'input[type=radio], [role=option], [role=menuitem], [role=tab]',
  ArrowUp: 'input[type=radio], [role=option], [role=menuitem], [role=tab]',
  ArrowLeft: 'input[type=radio], [role=tab]',
  ArrowRight: 'input[type=radio], [role=tab]',
}

/** Whether the control that has the focus does something with a key itself: then the key is its own, and no page's. */
export const isOfControl = (event: Pick<KeyboardEvent, 'key' | 'target' | 'ctrlKey' | 'metaKey'>): boolean => {
  const { target, key } = event
  if (!(target instanceof HTMLElement) || event.ctrlKey || event.metaKey) return false
  if (typedInto(target)) return key !== 'Escape'
  // Rows and marks that the page's keys are for, though they can be pressed as well.
  if (target.matches('[data-page-keys]')) return false
  const controls = pressedBy[key]
  return controls !== undefined && target.matches(controls)
}

const isSingle = (key: string): boolean => key.trim().length === 1

/**
 * A key of the page, with what it does for the page of keys. It is the page's only where the control under focus does not use it, and while no dialog is
 * open over it. Single characters can be switched off.
 */
export const useKey = (keys: string, does: string, act: (event: KeyboardEvent) => void, enabled = true): void => {
  const singles = useSingleKeys()
  const list = keys.split(',').map(key => key.trim())
  const on = singles ? list : list.filter(key => !isSingle(key))
  const active = enabled && on.length > 0
  const shown = on.join(' ')
  useEffect(() => (active ? announceKey({ keys: shown, does }) : undefined), [active, shown, does])
  useHotkeys(
    on.length > 0 ? on.join(',') : keys,
    event => {
      if (isOfControl(event) || document.querySelector('[role="dialog"][data-state="open"]:not([aria-modal="false"])'))
        return
      event.preventDefault()
      act(event)
    },
    {
      enabled: active,
      enableOnFormTags: true,
      enableOnContentEditable: true,
      useKey: keys === '?' || keys === '/',
    },
    [act, active],
  )
}
