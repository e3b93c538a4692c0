import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { decidePaymentsBody } from './payments.ts'
import { minor, month, settlementKey } from './shared.ts'

// What somebody wants done that another must consent to.

const keys = z.array(settlementKey).min(1).max(2000)
/** What is asked for: as the endpoint itself is asked. */
export const wantedAct = z.discriminatedUnion('sort', [
  z.object({ sort: z.literal('post'), keys }),
  z.object({ sort: z.literal('take_back'), keys }),
  z.object({ sort: z.literal('correct'), key: settlementKey }),
  z.object({ sort: z.literal('decide_payments'), decisions: decidePaymentsBody.shape.decisions }),
  z.object({ sort: z.literal('lock'), month, locked: z.boolean(), reason: z.string().max(500).default('') }),
])
export type WantedAct = z.infer<typeof wantedAct>
export const askConsentBody = z.object({ wanted: wantedAct, note: z.string().trim().max(1000).default('') })
export type AskConsentBody = z.input<typeof askConsentBody>

export const consentRow = z.object({
  consentId: z.string(),
  wanted: wantedAct,
  askedBy: z.object({ id: z.number(), name: z.string() }),
  askedAt: z.string(),
  note: z.string(),
  /** Settlements or payments, or one month, and their money in base. */
  count: z.number(),
  amount: minor,
  outcome: z.enum(['given', 'refused', 'withdrawn', 'moved']).nullable(),
  decidedBy: z.string().nullable(),
  decidedAt: z.string().nullable(),
  reason: z.string(),
  /** Whether what was asked for is still what it was; null once it is decided. */
  stands: z.boolean().nullable(),
})
export type ConsentRow = z.infer<typeof consentRow>

export const consentEndpoints = {
  askConsent: endpoint({
    method: 'POST',
    path: '/consents',
    right: 'settle',
    does: 'Asks for consent to what one may not do alone; what it would do is bound to it as it is now.',
    body: askConsentBody,
    answer: z.object({ consentId: z.string(), count: z.number(), amount: minor }),
    status: 201,
  }),
  giveConsent: endpoint({
    method: 'POST',
    path: '/consents/:consent/give',
    right: 'post',
    does: 'Consents, and does it: if it is still exactly what was asked for.',
    answer: z.object({ done: z.number() }),
  }),
  refuseConsent: endpoint({
    method: 'POST',
    path: '/consents/:consent/refuse',
    right: 'post',
    does: 'Does not consent, with the reason.',
    body: z.object({ reason: z.string().trim().min(1, 'the reason').max(1000) }),
    answer: nothing,
  }),
  withdrawConsent: endpoint({
    method: 'POST',
    path: '/consents/:consent/withdraw',
    right: 'settle',
    does: 'Takes back what one asked for.',
    answer: nothing,
  }),
}
