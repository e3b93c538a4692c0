import { Button, Flex, Input, Span } from '@chakra-ui/react'
import type { FileLook, SavedColumns } from '@culvert/contract'
import type { ReactNode } from 'react'
import { Select } from '../ui/Select.tsx'
import { orderText, styleText } from './meaningText.ts'

type Question = NonNullable<FileLook['proposed']>['questions'][number]
type Choice = SavedColumns['choice']

interface FileQuestionsProps {
  readonly said: SavedColumns
  readonly questions: readonly Question[]
  /** Questions that were answered, by their code. */
  readonly answered: ReadonlySet<string>
  readonly accounts: readonly { readonly code: string; readonly name: string }[]
  readonly onChoice: (choice: Partial<Choice>, code: string) => void
}

/** What could be read two ways, each asked so that whoever knows the client can answer. */
export const FileQuestions = (props: FileQuestionsProps) => {
  const asked = props.questions.filter(one => one.code !== 'column' && one.code !== 'kind')
  if (asked.length === 0) return null
  return (
    <Flex direction="column" gap="6px" mb="10px">
      {asked.map(question => (
        <QuestionRow key={keyOf(question)} question={question} {...props} />
      ))}
    </Flex>
  )
}

const keyOf = (question: Question): string =>
  question.code === 'region' || question.code === 'status' ? `${question.code} ${question.word}` : question.code

const Row = ({
  open,
  asks,
  children,
}: {
  readonly open: boolean
  readonly asks: ReactNode
  readonly children: ReactNode
}) => (
  <Flex
    gap="12px"
    align="center"
    minH="36px"
    px="12px"
    wrap="wrap"
    borderWidth="1px"
    borderColor={open ? 'ochre' : 'hairline'}
    bg={open ? 'ochre.wash' : 'sheet'}
  >
    <Span fontWeight="500" color={open ? 'ochre' : undefined}>
      {open ? '◆ ' : ''}
      {asks}
    </Span>
    {children}
  </Flex>
)

const QuestionRow = ({
  question,
  said,
  answered,
  accounts,
  onChoice,
}: FileQuestionsProps & { readonly question: Question }) => {
  const { choice } = said
  const answer = (wanted: Partial<Choice>) => onChoice(wanted, question.code)
  const open = !answered.has(question.code)
  switch (question.code) {
    case 'numbers':
      return (
        <Row open={open} asks="How are numbers written?">
          {question.styles.map(style => (
            <Pick
              key={styleText(style)}
              chosen={!open && styleText(style) === styleText(choice.numbers)}
              onPick={() => answer({ numbers: style })}
            >
              {styleText(style)}
            </Pick>
          ))}
        </Row>
      )
    case 'dates':
      return (
        <Row open={open} asks={`${question.sample}: which is the day?`}>
          {question.orders.map(order => (
            <Pick key={order} chosen={!open && order === choice.dates} onPick={() => answer({ dates: order })}>
              {orderText(order)}
            </Pick>
          ))}
        </Row>
      )
    case 'currency':
      return (
        <Row open={choice.currency === null} asks="No column says the currency. It is">
          <Input
            aria-label="Currency of the file"
            w="90px"
            placeholder="as EUR"
            maxLength={3}
            defaultValue={choice.currency ?? ''}
            onChange={event => {
              const text = event.target.value.toUpperCase()
              answer({ currency: /^[A-Z]{3}$/.test(text) ? text : null })
            }}
          />
        </Row>
      )
    case 'account':
      return said.of === 'bank' ? (
        <Row open={said.choice.account === null} asks="No column says the account. It is">
          <Select
            aria-label="Account of the file"
            w="260px"
            value={said.choice.account ?? ''}
            onChange={event => answer({ account: event.target.value || null } as Partial<Choice>)}
          >
            <option value="">say it …</option>
            {accounts.map(account => (
              <option key={account.code} value={account.code}>
                {account.code} {account.name}
              </option>
            ))}
          </Select>
        </Row>
      ) : null
    case 'fee_sign':
      return said.of === 'activity' ? (
        <Row open={open} asks="Fees are written without a minus. They are">
          <Pick
            chosen={!open && said.choice.feesPositive}
            onPick={() => answer({ feesPositive: true } as Partial<Choice>)}
          >
            taken off
          </Pick>
          <Pick
            chosen={!open && !said.choice.feesPositive}
            onPick={() => answer({ feesPositive: false } as Partial<Choice>)}
          >
            given back
          </Pick>
        </Row>
      ) : null
    case 'region':
    case 'status':
      return said.of === 'activity' ? <WordRow question={question} said={said} onChoice={onChoice} /> : null
    default:
      return null
  }
}

const statuses = ['available', 'pending', 'failed']

const WordRow = ({
  question,
  said,
  onChoice,
}: {
  readonly question: Extract<Question, { code: 'region' | 'status' }>
  readonly said: Extract<SavedColumns, { of: 'activity' }>
  readonly onChoice: FileQuestionsProps['onChoice']
}) => {
  const field = question.code === 'region' ? 'regions' : 'statuses'
  const words = said.choice[field]
  const say = (value: string) =>
    onChoice({ [field]: { ...words, [question.word]: value } } as Partial<Choice>, `${question.code} ${question.word}`)
  return (
    <Row
      open={words[question.word] === undefined}
      asks={`“${question.word}” is ${question.code === 'region' ? 'which country?' : 'which state?'}`}
    >
      {question.code === 'status' ? (
        statuses.map(status => (
          <Pick key={status} chosen={words[question.word] === status} onPick={() => say(status)}>
            {status}
          </Pick>
        ))
      ) : (
        <Input
          aria-label={`Country of ${question.word}`}
          w="90px"
          placeholder="as IE"
          maxLength={2}
          onChange={event => {
            const text = event.target.value.toUpperCase()
            if (/^[A-Z]{2}$/.test(text)) say(text)
          }}
        />
      )}
    </Row>
  )
}

const Pick = ({
  chosen,
  onPick,
  children,
}: {
  readonly chosen: boolean
  readonly onPick: () => void
  readonly children: ReactNode
}) => (
  <Button h="26px" aria-pressed={chosen} variant={chosen ? 'solid' : 'outline'} onClick={onPick}>
    {chosen ? '✓ ' : ''}
    {children}
  </Button>
)
