import { Box, Flex, Span } from '@chakra-ui/react'
import type { MissingFeeTax, MissingPage } from '@culvert/contract'
import { kinds } from '@culvert/core'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { Select } from '../ui/Select.tsx'
import { accountTypeText } from '../ui/words.ts'
import type { MissingEditing } from './missingDraft.ts'
import { regionText } from './taxPlaceText.ts'

/** How many things are there and do not fit. */
export const unfitCount = ({ unfit, unfitRoutes, unlikeRates }: MissingPage): number =>
  unfit.length + unfitRoutes.length + unlikeRates.length

/** What only a person can say: tax that no line states, accounts that cannot serve, and rates that are not those charged. */
export const MissingQuestions = (editing: MissingEditing) => {
  const { page } = editing
  const href = useHref()
  if (page.feeTaxes.length + unfitCount(page) === 0) return null
  return (
    <Box mt="12px" bg="ochre.wash" borderWidth="1px" borderColor="ochre">
      <Box as="h2" color="ochre" fontWeight="600" px="12px" pt="8px">
        Only a person can say
      </Box>
      {page.feeTaxes.map(row => (
        <FeeTax key={row.key} row={row} {...editing} />
      ))}
      {page.unfit.map(row => (
        <Unfit
          key={`${row.source} ${row.currency}`}
          title={`Clearing account ${row.account} of ${row.name}`}
          way={<Link to={href(`/sources/${row.source}`)}>Change it at the source</Link>}
        >
          {unfitText[row.why]} for {row.currency}
        </Unfit>
      ))}
      {page.unfitRoutes.map(row => (
        <Unfit
          key={row.route}
          title={`${row.title} to ${row.account} ${row.name}`}
          way={<Link to={href(`/mapping${row.source ? `/${row.source}` : ''}`)}>Look at the route</Link>}
        >
          {routeText[row.why]}
          {row.why === 'type' ? `: ${accountTypeText(row.type)}` : ''}
        </Unfit>
      ))}
      {page.unlikeRates.map(row => (
        <Unfit
          key={`${row.region} ${row.class} ${row.code}`}
          title={`${row.code}, sales to ${regionText(row.region)}${row.class === '' ? '' : `, ${row.class}`}`}
          way={<Link to={href('/mapping/tax')}>Look at the tax</Link>}
        >
          has {percentText(row.mapped)}, and {row.seen.toFixed(2)} % was charged: {countText(row.lines, 'line')},{' '}
          <Amount minor={row.amount} />
        </Unfit>
      ))}
    </Box>
  )
}

const percentText = ([lowest, highest]: MissingPage['unlikeRates'][number]['mapped']): string =>
  lowest === highest ? `${lowest} %` : `${lowest} to ${highest} %`

const Unfit = ({
  title,
  way,
  children,
}: {
  readonly title: string
  readonly way: ReactNode
  readonly children: ReactNode
}) => (
  <Flex px="12px" py="6px" gap="14px">
    <Span fontWeight="600">{title}</Span>
    <Span color="muted" flex="1">
      {children}
    </Span>
    {way}
  </Flex>
)

const routeText = {
  archived: 'the account is archived',
  type: 'the account is of a type unlike what goes there',
  other_clearing: 'the clearing account of another source',
} as const

const unfitText = {
  type: 'is no clearing account',
  currency: 'is in another currency',
  archived: 'takes no postings',
} as const

const unsaid = 'unsaid'
const none = 'none'

const FeeTax = ({ row, page, draft, say }: MissingEditing & { readonly row: MissingFeeTax }) => {
  const said = draft.feeTaxes.get(row.key)
  const title = row.of === 'charged' ? `Tax on what ${row.name} charges` : `Tax on what ${row.name} takes`
  const use = row.of === 'charged' ? 'purchases' : 'sales'
  return (
    <Flex px="12px" py="6px" gap="14px" align="center" wrap="wrap">
      <Span fontWeight="600">{title}</Span>
      <Span color="muted" flex="1" textStyle="small">
        {row.kinds.map(kind => kinds[kind].label.toLowerCase()).join(', ')}; {countText(row.lines, 'line')},{' '}
        <Amount minor={row.amount} signed />.{' '}
        {row.of === 'charged'
          ? 'Whether its bills bear a tax that is taken back, no line says.'
          : 'Which tax is in it, no line says.'}
      </Span>
      <Select
        aria-label={title}
        w="260px"
        value={said === undefined ? unsaid : (said ?? none)}
        onChange={event => {
          const { value } = event.target
          say(row.key, value === unsaid ? undefined : value === none ? null : value)
        }}
      >
        <option value={unsaid}>say it …</option>
        <option value={none}>no tax</option>
        {page.taxCodes
          .filter(code => code.use === use)
          .map(code => (
            <option key={code.code} value={code.code}>
              {code.code} {code.name}
            </option>
          ))}
      </Select>
    </Flex>
  )
}
