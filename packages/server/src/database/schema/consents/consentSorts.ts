/** What can be asked for: done by those who may, at once, and by a junior with another's consent. */
export const consentSorts = ['post', 'take_back', 'correct', 'decide_payments', 'lock'] as const
