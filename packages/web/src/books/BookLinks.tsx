import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'

export const BookLinks = ({
  here,
}: {
  readonly here: 'chart' | 'entries' | 'register' | 'opening' | 'rates' | 'contacts' | 'open-items'
}) => {
  const href = useHref()
  return (
    <>
      <Link to={href('/books')} aria-current={here === 'chart' ? 'page' : undefined}>
        Chart of accounts
      </Link>
      <Link to={href('/books/entries')} aria-current={here === 'entries' ? 'page' : undefined}>
        Entries
      </Link>
      <Link to={href('/books/opening')} aria-current={here === 'opening' ? 'page' : undefined}>
        Opening balances
      </Link>
      <Link to={href('/books/rates')} aria-current={here === 'rates' ? 'page' : undefined}>
        Exchange rates
      </Link>
      <Link to={href('/books/contacts')} aria-current={here === 'contacts' ? 'page' : undefined}>
        Contacts
      </Link>
      <Link to={href('/books/open-items')} aria-current={here === 'open-items' ? 'page' : undefined}>
        Open invoices and bills
      </Link>
    </>
  )
}
