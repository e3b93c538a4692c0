import { Box, Button, Span } from '@chakra-ui/react'
import { ownFormats, sampleCsv, tableSchema } from '@culvert/core'
import { saveText } from '../ui/saveText.ts'

/** Samples of our own files, each with its schema: what somebody else's program would write. */
export const OwnFormats = ({ of }: { readonly of: readonly (keyof typeof ownFormats)[] }) => (
  <Box color="muted" textStyle="small" mt="8px">
    Files of our own:{' '}
    {of.map((name, at) => {
      const format = ownFormats[name]
      return (
        <Span key={name}>
          {at > 0 ? ' · ' : ''}
          {format.name}.csv{' '}
          <Button
            variant="plain"
            textStyle="small"
            aria-label={`Sample of ${format.name}.csv`}
            onClick={() => saveText({ name: `${format.name}.sample.csv`, text: sampleCsv(format), type: 'text/csv' })}
          >
            sample
          </Button>
          {', '}
          <Button
            variant="plain"
            textStyle="small"
            aria-label={`Schema of ${format.name}.csv`}
            onClick={() =>
              saveText({
                name: `${format.name}.schema.json`,
                text: `${JSON.stringify(tableSchema(format), null, 2)}\n`,
              })
            }
          >
            schema
          </Button>
        </Span>
      )
    })}
  </Box>
)
