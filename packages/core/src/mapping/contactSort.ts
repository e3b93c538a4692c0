/** What a contact is to the client: it buys, it sells, or both. */
export const contactSorts = ['customer', 'supplier', 'both'] as const
export type ContactSort = (typeof contactSorts)[number]
