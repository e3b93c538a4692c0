import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'

const pages = [
  ['missing', '/mapping/missing', 'What is missing'],
  ['routes', '/mapping', 'Routes'],
  ['tax', '/mapping/tax', 'Tax'],
  ['rules', '/mapping/rules', 'Rules'],
  ['items', '/mapping/items', 'Items'],
  ['codes', '/mapping/tax/codes', 'Tax codes'],
] as const

/** The links between the mapping's own pages. */
export const MappingLinks = ({ here }: { readonly here: (typeof pages)[number][0] }) => {
  const href = useHref()
  return pages.map(([name, path, title]) => (
    <Link key={name} to={href(path)} aria-current={name === here ? 'page' : undefined}>
      {title}
    </Link>
  ))
}
