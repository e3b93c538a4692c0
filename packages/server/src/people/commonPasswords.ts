/** Words that passwords of twelve letters and more are made of first: whoever guesses tries them, once and repeated. */
const words = [
  'password',
  'passwort',
  'qwerty',
  'qwertz',
  'letmein',
  'welcome',
  'bookkeeping',
  'bookkeeper',
  'accounting',
  'culvert',
  'abcdef',
  'changeme',
]

const folded = (text: string): string => text.toLowerCase().replaceAll(/[^a-z]/g, '')

/** Whether a password is one that is tried first: one sign repeated, a row of the keyboard or digits, such a word with figures, or one's own address. */
export const isTriedFirst = (password: string, address: string): boolean => {
  const letters = folded(password)
  const [own = ''] = address.toLowerCase().split('@')
  if (new Set(password).size < 5) return true
  if ('01234567890123456789'.includes(password) || '98765432109876543210'.includes(password)) return true
  if (own.length > 3 && letters === folded(own)) return true
  return words.some(word => letters === word || letters === word.repeat(2))
}
