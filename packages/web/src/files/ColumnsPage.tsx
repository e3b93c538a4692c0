import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { FileLook, SavedColumns } from '@culvert/contract'
import type { Kind } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { heldFile, holdFile } from '../context/heldFile.ts'
import { bankAccountsQuery, sourcesQuery } from '../context/sharedQueries.ts'
import { FileButton } from '../ui/FileButton.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { countText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import { saved as savedState, Unsaved } from '../ui/Unsaved.tsx'
import { statementText, uploadedText } from './broughtText.ts'
import { ColumnsTable } from './ColumnsTable.tsx'
import { FileQuestions } from './FileQuestions.tsx'
import { type FileOf, lookAt, type Told, useFileActs } from './fileQueries.ts'
import { KindTable } from './KindTable.tsx'
import { type Aside, MadeTable } from './MadeTable.tsx'
import { type AnyMeaning, styleText } from './meaningText.ts'
import type { Preview } from './previewFile.ts'
import { usePreview } from './usePreview.ts'

/** A file in columns of its own: what each means, with what it comes to beside, before anything is brought in. */
export const ColumnsPage = () => {
  const { subject = 'source', key = '' } = useParams()
  const { clientId } = useClient()
  const [file, setFile] = useState(heldFile)
  const [told, setTold] = useState<Told>({})
  const of: FileOf = { subject: subject === 'account' ? 'account' : 'source', key }
  const named = key === '-' ? {} : of
  const query = useQuery({
    queryKey: ['client', clientId, 'look', subject, key, file?.name, file?.size, file?.lastModified, told],
    queryFn: () => lookAt(clientId, file as File, { ...named, ...told }),
    enabled: file !== null,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  })
  if (file === null)
    return (
      <Page title="Columns of a file">
        <Flex gap="12px" align="center">
          <Span>The page was loaded anew, and files are not kept. Choose it once more.</Span>
          <FileButton
            label="Choose the file"
            accept=".csv,.txt,.xlsx"
            onFiles={([one]) => {
              holdFile(one ?? null)
              setFile(one ?? null)
            }}
          />
        </Flex>
      </Page>
    )
  if (!query.data)
    return (
      <Page title={file.name}>
        <Instead of={query} />
      </Page>
    )
  return <Said key={JSON.stringify(told)} look={query.data} file={file} of={of} told={told} onTold={setTold} />
}

interface SaidProps {
  readonly look: FileLook
  readonly file: File
  readonly of: FileOf
  readonly told: Told
  readonly onTold: (told: Told) => void
}

const Said = ({ look, file, of, told, onTold }: SaidProps) => {
  const begun = look.saved ?? look.proposed?.said ?? null
  const questions = look.saved ? [] : (look.proposed?.questions ?? [])
  const [said, setSaid] = useState<SavedColumns | null>(begun)
  const [looked, setLooked] = useState<ReadonlySet<string>>(new Set())
  const [touched, setTouched] = useState(false)
  const [aside, setAside] = useState<ReadonlyMap<number, Aside>>(new Map())
  const asked = useMemo(
    () => (said === null ? null : { said, header: look.header, rows: look.rows, aside: new Set(aside.keys()) }),
    [said, look.header, look.rows, aside],
  )
  const { preview, fresh } = usePreview(asked)
  const { data: banks } = useQuery(bankAccountsQuery(useClient().clientId))
  if (said === null || look.encodings.length > 0)
    return (
      <Page title={file.name} facts={<Facts look={look} />}>
        <Encodings look={look} onEncoding={encoding => onTold({ ...told, encoding })} />
      </Page>
    )
  const change = (choice: Partial<SavedColumns['choice']>, answered: string) => {
    setSaid({ ...said, choice: { ...said.choice, ...choice } } as SavedColumns)
    setLooked(new Set(looked).add(answered))
    setTouched(true)
  }
  const openColumns = new Set(
    questions.flatMap(one => (one.code === 'column' && !looked.has(`column ${one.column}`) ? [one.column] : [])),
  )
  // A word that stands in rows set aside alone is no question any more.
  const isSeen = (word: string) => aside.size === 0 || preview?.words.some(one => one.word === word) !== false
  const openWords = new Set(
    questions.flatMap(one =>
      one.code === 'kind' && !looked.has(`kind ${one.word}`) && isSeen(one.word) ? [one.word] : [],
    ),
  )
  const others = questions.filter(
    one => (one.code === 'numbers' || one.code === 'dates' || one.code === 'fee_sign') && !looked.has(one.code),
  )
  const onMeaning = (column: number, meaning: AnyMeaning | null) => {
    const columns = said.choice.columns.map((one, at) => (at === column ? { ...one, meaning } : one))
    change({ columns } as Partial<SavedColumns['choice']>, `column ${said.choice.columns[column]?.name}`)
  }
  const failing = new Set(preview?.faults.map(fault => fault.row) ?? [])
  const openCount = openColumns.size + openWords.size + others.length + (preview?.lacking.length ?? 0)
  return (
    <Page
      links={<Way of={of} />}
      title={file.name}
      facts={
        <>
          <Facts look={look} />
          {said.of === 'activity' ? <span>numbers as {styleText(said.choice.numbers)}</span> : null}
          {look.sheets.length > 1 ? (
            <Select
              aria-label="Sheet"
              w="180px"
              value={told.sheet ?? look.sheets[0]}
              onChange={event => onTold({ ...told, sheet: event.target.value })}
            >
              {look.sheets.map(sheet => (
                <option key={sheet}>{sheet}</option>
              ))}
            </Select>
          ) : null}
          {of.subject === 'source' && of.key !== '-' ? (
            <Flex as="span" gap="6px" align="center">
              its rows are
              <Select
                aria-label="Its rows are"
                w="150px"
                value={said.of}
                onChange={event => onTold({ ...told, as: event.target.value as NonNullable<Told['as']> })}
              >
                <option value="activity">movements</option>
                <option value="settlements">settlements</option>
                <option value="balances">balances</option>
              </Select>
            </Flex>
          ) : null}
          {look.saved ? <span>columns as they were said before</span> : null}
        </>
      }
      actions={
        <Span color={openCount > 0 ? 'ochre' : 'muted'} fontWeight={openCount > 0 ? '600' : undefined} role="status">
          {openCount > 0 ? `◆ ${countText(openCount, 'thing')} open` : 'nothing open'}
        </Span>
      }
    >
      <FileQuestions
        said={said}
        questions={questions}
        answered={looked}
        accounts={banks?.accounts ?? []}
        onChoice={change}
      />
      <ColumnsTable
        of={said.of}
        header={look.header}
        rows={look.rows}
        columns={said.choice.columns}
        open={openColumns}
        failing={failing}
        onMeaning={onMeaning}
      />
      {said.of === 'activity' && preview?.faults.some(fault => fault.code === 'row_does_not_add') ? (
        <Flex
          mt="10px"
          gap="12px"
          align="center"
          px="12px"
          minH="36px"
          bg="ochre.wash"
          borderWidth="1px"
          borderColor="ochre"
        >
          <Span color="ochre" fontWeight="500">
            ◆ {countText(preview.faultCount, 'row does', 'rows do')} not come to the net that stands in{' '}
            {preview.faultCount === 1 ? 'it' : 'them'}.
          </Span>
          <Span>Mend the file, or</Span>
          <Button h="26px" onClick={() => change({ holdNet: false }, 'net')}>
            take gross and fee as they are
          </Button>
        </Flex>
      ) : null}
      {preview ? (
        <Flex gap="14px" mt="12px" align="flex-start" wrap={{ base: 'wrap', xl: 'nowrap' }}>
          <Box flex="1 1 0" minW={{ base: '100%', xl: '0' }}>
            <MadeTable
              preview={preview}
              onAside={
                said.of === 'activity' && aside.size < 100
                  ? (row, why) => {
                      setAside(new Map(aside).set(row, why))
                      setTouched(true)
                    }
                  : null
              }
            />
            <SetAsideRows aside={aside} onBack={row => setAside(new Map([...aside].filter(([one]) => one !== row)))} />
          </Box>
          {said.of === 'activity' && preview.words.length > 0 ? (
            <Box flex="0 0 auto" borderWidth="1px" borderColor="hairline">
              <KindTable
                words={preview.words}
                kinds={said.choice.kinds}
                reversed={said.choice.reversed}
                open={openWords}
                onKind={(word, kind) => change({ kinds: withKind(said.choice.kinds, word, kind) }, `kind ${word}`)}
                onReversed={(word, reversed) =>
                  change(
                    {
                      reversed: reversed
                        ? [...said.choice.reversed, word]
                        : said.choice.reversed.filter(one => one !== word),
                    },
                    `kind ${word}`,
                  )
                }
              />
            </Box>
          ) : null}
        </Flex>
      ) : null}
      <Unsaved changed={touched} what={`the columns of ${file.name}`} />
      <BringBar
        {...{ look, file, of, told, said, preview, fresh, aside }}
        waits={waitsFor({
          isNowhere: said.of === 'activity' && of.key === '-',
          preview,
          columns: openColumns,
          words: openWords,
          others: others.length,
        })}
        onLooked={() => {
          setLooked(
            new Set([
              ...looked,
              ...[...openColumns].map(one => `column ${one}`),
              ...[...openWords].map(one => `kind ${one}`),
            ]),
          )
        }}
      />
    </Page>
  )
}

const withKind = (
  kinds: Readonly<Record<string, Kind | null>>,
  word: string,
  kind: Kind | null | undefined,
): Record<string, Kind | null> => {
  const { [word]: _, ...rest } = kinds
  return kind === undefined ? rest : { ...rest, [word]: kind }
}

/** Why the file cannot be brought in yet; null: it can. */
const waitsFor = (of: {
  /** It holds what a source reports, and was brought to none. */
  readonly isNowhere: boolean
  readonly preview: Preview | null
  readonly columns: ReadonlySet<string>
  readonly words: ReadonlySet<string>
  readonly others: number
}): { text: string; glance: boolean } | null => {
  const { preview, columns, words, others } = of
  if (of.isNowhere) return { text: 'it holds what a source reports; bring it in at its source', glance: false }
  if (!preview) return { text: 'the file is being read', glance: false }
  const [lacking] = preview.lacking
  if (lacking) return { text: `it lacks ${lacking.text}`, glance: false }
  if (others > 0) return { text: 'a question above is open', glance: false }
  if (preview.faultCount > 0)
    return {
      text: `${countText(preview.faultCount, 'row')} cannot be read; a file comes in whole or not at all`,
      glance: false,
    }
  if (preview.lines === 0) return { text: 'it makes no line', glance: false }
  const glances = [...columns, ...words]
  return glances.length > 0
    ? { text: `${glances.slice(0, 3).join(', ')}: proposed, and to be looked at`, glance: true }
    : null
}

const Facts = ({ look }: { readonly look: FileLook }) => (
  <span>
    {countText(look.count, 'row')} · {look.header.length} columns · {look.format.toUpperCase()}
    {look.count > look.rows.length ? ` · the first ${look.rows.length.toLocaleString('en-IE')} are looked at here` : ''}
  </span>
)

const Way = ({ of }: { readonly of: FileOf }) => {
  const { clientId } = useClient()
  const href = useHref()
  const { data } = useQuery(sourcesQuery(clientId))
  if (of.subject === 'account') return <Link to={href('/bank/accounts')}>Accounts and statements</Link>
  return (
    <>
      <Link to={href('/sources')}>Sources</Link>
      <Link to={href(`/sources/${of.key}`)}>{data?.sources.find(one => one.source === of.key)?.name ?? of.key}</Link>
    </>
  )
}

const Encodings = ({
  look,
  onEncoding,
}: {
  readonly look: FileLook
  readonly onEncoding: (encoding: string) => void
}) => (
  <Box as="section" aria-label="Encoding" bg="sheet" borderWidth="1px" borderColor="ochre" p="14px" maxW="860px">
    <Box fontWeight="600" color="ochre" mb="8px">
      ◆ The file does not say in which encoding it is. In which do its names read right?
    </Box>
    {look.encodings.map(({ encoding, sample }) => (
      <Flex key={encoding} gap="14px" align="center" minH="34px" borderTopWidth="1px" borderColor="hairline">
        <Button h="26px" w="140px" onClick={() => onEncoding(encoding)}>
          {encoding}
        </Button>
        <Span textStyle="mono" truncate>
          {sample}
        </Span>
      </Flex>
    ))}
  </Box>
)

/** Rows as the server is told of them: `17:nothing,23:unread`. */
const asideText = (aside: ReadonlyMap<number, Aside>): string =>
  [...aside].map(([row, why]) => `${row}:${why}`).join(',')

const SetAsideRows = ({
  aside,
  onBack,
}: {
  readonly aside: ReadonlyMap<number, Aside>
  readonly onBack: (row: number) => void
}) =>
  aside.size === 0 ? null : (
    <Flex mt="6px" gap="10px" wrap="wrap" align="center" role="status" aria-label="Rows set aside">
      <Span fontWeight="500">▢ {countText(aside.size, 'row')} set aside, and kept with the file:</Span>
      {[...aside].map(([row, why]) => (
        <Span key={row}>
          row {row}, {why === 'nothing' ? 'moves nothing' : 'to be brought in later'}{' '}
          <Button variant="plain" h="22px" onClick={() => onBack(row)}>
            Back
          </Button>
        </Span>
      ))}
    </Flex>
  )

const madeText = { activity: 'activity line', bank: 'bank line', settlements: 'settlement', balances: 'balance' }

interface BringBarProps extends Omit<SaidProps, 'onTold'> {
  readonly said: SavedColumns
  readonly preview: Preview | null
  readonly fresh: boolean
  readonly aside: ReadonlyMap<number, Aside>
  readonly waits: { readonly text: string; readonly glance: boolean } | null
  readonly onLooked: () => void
}

const BringBar = ({ look, file, of, told, said, preview, fresh, aside, waits, onLooked }: BringBarProps) => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const acts = useFileActs(clientId)
  const [busy, setBusy] = useState(false)
  const told1 = { encoding: told.encoding ?? said.encoding, sheet: told.sheet ?? said.sheet }
  const account =
    said.of === 'bank' ? (of.subject === 'account' && of.key !== '-' ? of.key : said.choice.account) : null
  const bring = async () => {
    setBusy(true)
    const key = said.of === 'bank' ? (account ?? '-') : of.key
    try {
      await acts.keep.mutateAsync({
        subject: said.of === 'bank' ? 'account' : 'source',
        key,
        header: look.header,
        said: { ...said, ...told1 },
      })
      const text =
        said.of === 'bank'
          ? await acts.statement
              .mutateAsync({ file, told: { ...told1, account: key } })
              .then(one => one && statementText(file.name, one))
          : await acts.activity
              .mutateAsync({
                source: of.key,
                file,
                told: { ...told1, ...(aside.size > 0 && { aside: asideText(aside) }) },
              })
              .then(one => one && uploadedText(file.name, one))
      holdFile(null)
      if (text) notice.say(text)
      void navigate(href(said.of === 'bank' ? `/bank/${account ?? ''}` : `/sources/${of.key}`), savedState)
    } catch (error) {
      notice.refuse(error)
    } finally {
      setBusy(false)
    }
  }
  const whole = preview !== null && look.count <= look.rows.length
  return (
    <FootBar>
      <Button variant="solid" disabled={waits !== null || !fresh || busy} onClick={() => void bring()}>
        Bring in {countText(look.count - aside.size, 'row')}
      </Button>
      {waits?.glance ? <Button onClick={onLooked}>All right as proposed</Button> : null}
      <Span color={waits ? 'ochre' : 'muted'}>
        {waits
          ? `Waits: ${waits.text}.`
          : `${whole ? `Makes ${countText(preview.lines, madeText[said.of])}; ` : ''}nothing is posted. The columns are kept for the next file.`}
      </Span>
    </FootBar>
  )
}
