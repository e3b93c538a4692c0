import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'

interface BankLinksProps {
  readonly here: 'pairing' | 'proof' | 'accounts'
  /** The account whose pages these are; without one its proof is reached from the list of accounts. */
  readonly account?: string
}

/** The pages of the bank. */
export const BankLinks = ({ here, account }: BankLinksProps) => {
  const href = useHref()
  const at = account === undefined ? '' : `/${encodeURIComponent(account)}`
  return (
    <>
      <Link to={href(`/bank${at}`)} aria-current={here === 'pairing' ? 'page' : undefined}>
        Pairing
      </Link>
      {account === undefined ? null : (
        <Link to={href(`/bank${at}/proof`)} aria-current={here === 'proof' ? 'page' : undefined}>
          Proof
        </Link>
      )}
      <Link to={href('/bank/accounts')} aria-current={here === 'accounts' ? 'page' : undefined}>
        Accounts and statements
      </Link>
    </>
  )
}
