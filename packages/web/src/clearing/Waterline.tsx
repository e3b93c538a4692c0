import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { ProofPage, TraceStart } from '@culvert/contract'
import { currencyDigits, dateOfDay, dayNumber } from '@culvert/core'
import { Chart, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js'
import { useTheme } from 'next-themes'
import { useMemo, useState } from 'react'
import { Line } from 'react-chartjs-2'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { amountText, dateText, dayText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'

Chart.register(LineController, LineElement, PointElement, LinearScale, Tooltip)

type Points = readonly { readonly date: string; readonly balance: number }[]

/** The balance over time, books and processor; the figures are one press away as a table. */
export const Waterline = ({ page }: { readonly page: ProofPage }) => {
  const { locale } = useClient()
  const { resolvedTheme } = useTheme()
  const [asTable, setAsTable] = useState(false)
  const unit = 10 ** currencyDigits(page.currency)
  const first = Math.min(
    ...[...page.waterline.books, ...page.waterline.reported].map(point => dayNumber(point.date)),
    dayNumber(page.date) - 1,
  )
  const options = useMemo(() => {
    const style = getComputedStyle(document.documentElement)
    const color = (name: string) => style.getPropertyValue(`--chakra-colors-${name}`).trim()
    const font = { family: 'IBM Plex Sans', size: 11.5 }
    return {
      colors: { ink: color('ink'), plum: color('plum') },
      chart: {
        responsive: true,
        maintainAspectRatio: false,
        animation: false as const,
        interaction: { mode: 'nearest' as const, intersect: false },
        plugins: {
          legend: { display: false },
          tooltip: {
            callbacks: {
              title: (items: { parsed: { x: number | null } }[]) => dateText(dateOfDay(items[0]?.parsed.x ?? 0)),
              label: (item: { dataset: { label?: string }; parsed: { y: number | null } }) =>
                `${item.dataset.label}: ${amountText(Math.round((item.parsed.y ?? 0) * unit), page.currency, locale)}`,
            },
          },
        },
        scales: {
          x: {
            type: 'linear' as const,
            min: first,
            max: dayNumber(page.date),
            ticks: {
              color: color('muted'),
              font,
              maxTicksLimit: 7,
              callback: (value: number | string) => dayText(dateOfDay(Math.round(Number(value)))),
            },
            grid: { display: false },
            border: { color: color('hairline') },
          },
          y: {
            ticks: {
              color: color('muted'),
              font,
              maxTicksLimit: 6,
              callback: (value: number | string) => Number(value).toLocaleString(locale),
            },
            grid: { color: color('hairline') },
            border: { display: false },
          },
        },
      },
      theme: resolvedTheme,
    }
  }, [page.currency, page.date, first, locale, unit, resolvedTheme])
  const points = (series: Points) => series.map(point => ({ x: dayNumber(point.date), y: point.balance / unit }))
  const sayer = sayerOf(page)
  const data = {
    datasets: [
      {
        label: 'Books',
        data: points(page.waterline.books),
        borderColor: options.colors.ink,
        backgroundColor: options.colors.ink,
        borderWidth: 1.4,
        pointRadius: 0,
        stepped: 'before' as const,
      },
      {
        label: sayer,
        data: points(page.waterline.reported),
        borderColor: options.colors.plum,
        backgroundColor: options.colors.plum,
        borderWidth: 1.4,
        borderDash: [3, 3],
        // What was stated stands for its day only, and may be a single point.
        pointRadius: page.sort === 'balance' ? 3 : 0,
      },
    ],
  }
  return (
    <Box as="figure" m="0">
      <Flex as="figcaption" align="center" mb="6px" gap="14px">
        <Box as="h2" fontWeight="600" flex="1">
          Waterline, {page.currency}
        </Box>
        <Span textStyle="small">
          books <span aria-hidden="true">—</span>
        </Span>
        {page.waterline.reported.length > 0 ? (
          <Span color="plum" textStyle="small">
            {sayer} <span aria-hidden="true">┄</span>
          </Span>
        ) : null}
        <Button variant="ghost" textStyle="small" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
          {asTable ? 'as a chart' : 'as a table'}
        </Button>
      </Flex>
      {page.waterline.books.length + page.waterline.reported.length === 0 ? (
        <Box color="muted" py="24px">
          Nothing moved in the 120 days up to {dateText(page.date)}.
        </Box>
      ) : asTable ? (
        <WaterTable page={page} />
      ) : (
        <Box h="270px">
          <Line data={data} options={options.chart} aria-label={`Balance of ${page.account} over time`} />
        </Box>
      )}
    </Box>
  )
}

const sayerOf = (page: ProofPage): string => (page.sourceName === 'it was stated' ? 'the other side' : page.sourceName)

const WaterTable = ({ page }: { readonly page: ProofPage }) => {
  const books = new Map(page.waterline.books.map(point => [point.date, point.balance]))
  const reported = new Map(page.waterline.reported.map(point => [point.date, point.balance]))
  const dates = [...new Set([...books.keys(), ...reported.keys()])].sort().reverse()
  const amounts = (
    id: string,
    head: string,
    { of, trace }: { of: ReadonlyMap<string, number>; trace: (date: string) => TraceStart },
  ): SheetColumn<string> => ({
    id,
    head,
    right: true,
    money: date => ({ minor: of.get(date) ?? null, currency: page.currency }),
    cell: date => <Amount minor={of.get(date) ?? null} currency={page.currency} trace={trace(date)} />,
  })
  const columns: readonly SheetColumn<string>[] = [
    { id: 'date', head: 'Date', value: date => date, cell: date => dateText(date) },
    amounts('books', 'Books move to', {
      of: books,
      trace: date => ({ at: 'account', account: page.account, to: date }),
    }),
    amounts('says', `${sayerOf(page)} says`, {
      of: reported,
      trace: date => ({ at: 'reported', account: page.account, currency: page.currency, date }),
    }),
  ]
  return (
    <Box h="270px" overflow="auto">
      <SheetTable
        scope="water-"
        label="Waterline figures"
        whole
        filterable={false}
        columns={columns}
        rows={dates}
        rowKey={date => date}
      />
    </Box>
  )
}
