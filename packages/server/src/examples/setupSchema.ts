import { dateBases, treatments } from '@culvert/core'
import { z } from 'zod'

const bankRow = z.object({ account: z.string(), region: z.string().nullable().default(null), currency: z.string() })

/** setup.json of a worked example. A missing key means null, false or its default. */
export const setupSchema = z.object({
  client: z.object({
    name: z.string(),
    base: z.string(),
    timeZone: z.string(),
    cutOff: z.string().default('00:00'),
    exchangeRounding: z.string().nullish(),
  }),
  accounts: z.array(z.object({ code: z.string(), name: z.string(), type: z.string(), currency: z.string() })),
  taxCodes: z
    .array(
      z.object({
        code: z.string(),
        name: z.string().default(''),
        treatment: z.enum(treatments).default('taxed'),
        basis: z.enum(['inclusive', 'exclusive', 'none']),
        use: z.enum(['sales', 'purchases']).default('sales'),
        reverseCharge: z.boolean().default(false),
        country: z.string().nullish(),
        recovery: z.array(z.object({ from: z.string(), percent: z.string() })).default([]),
        components: z.array(
          z.object({
            name: z.string().default(''),
            account: z.string(),
            inputAccount: z.string().nullable().default(null),
            compound: z.boolean().default(false),
            rates: z.array(z.object({ from: z.string(), percent: z.string() })),
          }),
        ),
      }),
    )
    .default([]),
  sources: z.array(
    z.object({
      key: z.string(),
      shape: z.enum(['combined', 'channel', 'gateway']),
      clearing: z.record(z.string(), z.string()),
      paysInto: z.array(bankRow).default([]),
      drawnFrom: z.array(bankRow).default([]),
      bankTexts: z.array(z.string()).default([]),
      options: z
        .object({
          splitAtMonthEnd: z.boolean().default(false),
          taxRounding: z.enum(['bucket', 'line']).default('bucket'),
          detail: z.array(z.enum(['category', 'sku', 'location'])).default([]),
          taxTolerance: z.string().nullish(),
          payoutsLeaveBalance: z.enum(['sent', 'arrived']).default('sent'),
          reservesStayOnBalance: z.boolean().default(false),
          ancillaryFollows: z.boolean().default(false),
          refundFollows: z.boolean().default(false),
          place: z.string().nullish(),
          dateBasis: z.enum(dateBases).default('order'),
        })
        .prefault({}),
    }),
  ),
  routes: z.array(
    z.object({
      kind: z.string(),
      source: z.string().nullish(),
      category: z.string().nullish(),
      sku: z.string().nullish(),
      location: z.string().nullish(),
      gateway: z.string().nullish(),
      method: z.string().nullish(),
      region: z.string().nullish(),
      tax_label: z.string().nullish(),
      taxLabel: z.string().nullish(),
      account: z.string().nullish(),
      taxCode: z.string().nullish(),
      segments: z.record(z.string(), z.string()).default({}),
      block: z.boolean().default(false),
      charge: z.boolean().default(false),
      from: z.string().nullish(),
    }),
  ),
  classes: z
    .array(z.object({ sku: z.string().nullish(), category: z.string().nullish(), class: z.string() }))
    .default([]),
  taxRows: z
    .array(
      z.object({
        source: z.string().nullish(),
        kind: z.string().nullish(),
        label: z.string().nullish(),
        region: z.string().nullish(),
        class: z.string().nullish(),
        from: z.string().nullish(),
        code: z.string().nullish(),
      }),
    )
    .nullish(),
  pairing: z
    .object({
      windowDays: z.number().default(7),
      maxGroup: z.number().default(12),
      bankFeeUpTo: z.string().nullish(),
      completeTo: z.string().nullish(),
      doubtReferences: z.boolean().default(false),
    })
    .prefault({}),
  timing: z.object({ onItsWayDays: z.number().default(10), misdatedDays: z.number().default(35) }).nullish(),
  rates: z.array(z.object({ date: z.string(), from: z.string(), to: z.string(), rate: z.string() })).default([]),
  proof: z.array(z.object({ account: z.string(), date: z.string(), reported: z.string() })).nullish(),
})

/** A setup as an example writes it. */
export type ParsedSetup = z.infer<typeof setupSchema>
