import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'

const pages = [
  ['tie-out', '/payments', 'Tie-out'],
  ['decided', '/payments/decided', 'Decided'],
  ['disputes', '/payments/disputes', 'Disputed payments'],
] as const

/** The links between the pages of payments. */
export const PaymentLinks = ({ here }: { readonly here: (typeof pages)[number][0] }) => {
  const href = useHref()
  return pages.map(([name, path, title]) => (
    <Link key={name} to={href(path)} aria-current={name === here ? 'page' : undefined}>
      {title}
    </Link>
  ))
}
