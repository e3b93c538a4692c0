import { useSyncExternalStore } from 'react'

/** A key that the page listens to now, and what it does. */
export interface AnnouncedKey {
  readonly keys: string
  readonly does: string
}

let announced: readonly AnnouncedKey[] = []
const listeners = new Set<() => void>()
const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => {
    listeners.delete(listener)
  }
}
const tell = (): void => {
  for (const listener of listeners) listener()
}

/** Says that a key does something from now on, until what is returned is called. */
export const announceKey = (key: AnnouncedKey): (() => void) => {
  announced = [...announced, key]
  tell()
  return () => {
    announced = announced.filter(one => one !== key)
    tell()
  }
}

/** The keys of this page as it stands. */
export const useKeysOfPage = (): readonly AnnouncedKey[] => useSyncExternalStore(subscribe, () => announced)

const setting = 'culvert.singleKeys'
let singles = localStorage.getItem(setting) !== 'off'

/** Whether single letters, digits and marks are keys of the page. */
export const useSingleKeys = (): boolean => useSyncExternalStore(subscribe, () => singles)

/** Switches them on or off, in this browser. */
export const switchSingleKeys = (on: boolean): void => {
  singles = on
  localStorage.setItem(setting, on ? 'on' : 'off')
  tell()
}
