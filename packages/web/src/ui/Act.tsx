import { Button, type ButtonProps, Span } from '@chakra-ui/react'
import { type Right, rightsOfRole, roles } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'

/** A button for those who may: for whoever may not it is not there. The server asks anew. */
export const Act = ({ right, ...button }: ButtonProps & { readonly right: Right }) =>
  useMay()(right) ? <Button {...button} /> : null

const whose: Partial<Record<Right, string>> = {
  post: 'Posting and taking back',
  map: 'Changing the map',
  pair: 'Pairing and deciding',
  close: 'Locking months',
  bring: 'Bringing in',
}
const people = {
  owner: 'the owner',
  bookkeeper: 'a bookkeeper',
  junior: 'a junior',
  accountant: 'an accountant',
  guest: 'a guest',
}

/** Says whose an act is, to whoever may not. */
export const Whose = ({ right }: { readonly right: Right }) => {
  const { role } = useClient()
  if (useMay()(right)) return null
  const others = roles.filter(one => one !== role && rightsOfRole[one].has(right)).map(one => people[one])
  return (
    <Span color="muted">
      {whose[right] ?? 'This'} is for {others.slice(0, -1).join(', ')}
      {others.length > 1 ? ' or ' : ''}
      {others.at(-1)}.
    </Span>
  )
}
