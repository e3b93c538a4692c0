import type { ActivityLine } from '@culvert/core'
import type { StoredLine } from '../activity/activityLines.ts'

/** A stored line as the core decides it. */
export const activityLine = (line: StoredLine): ActivityLine => ({
  source: line.source,
  kind: line.kind as ActivityLine['kind'],
  lineId: line.lineId,
  settlementId: line.texts.settlementId,
  occurredAt: line.occurredAt,
  instant: Date.parse(line.occurredAt),
  orderId: line.orderId,
  gateway: line.gateway,
  method: line.method,
  category: line.category,
  sku: line.sku,
  description: line.description,
  quantity: line.texts.quantity,
  unitPrice: null,
  location: line.location,
  region: line.region,
  customer: line.texts.customer,
  email: line.texts.email,
  shipTo: line.texts.shipTo,
  currency: line.currency,
  amount: line.amount,
  taxAmount: line.taxAmount,
  taxLabel: line.taxLabel,
  relatedId: line.texts.relatedId,
  status: 'available',
  availableAt: null,
  url: line.texts.url,
  extra: {},
})
