/** A text as people compare it: case, accents and width folded; everything but letters and digits becomes one space. */
export const foldText = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .replace(/ø/g, 'o')
    .replace(/[łľ]/g, 'l')
    .replace(/æ/g, 'ae')
    .replace(/œ/g, 'oe')
    .replace(/đ/g, 'd')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

// Legal forms that say nothing of who it is; a name of nothing else keeps them.
const companyForms = new Set(
  'ltd limited inc incorporated llc llp plc co corp corporation company gmbh ag ug kg ohg ev eg sa sarl sas sasu srl spa snc bv nv ab as oy oyj aps pty dac clg cpt uc'.split(
    ' ',
  ),
)

/**
 * A person's or firm's name folded so that spellings of one name agree: case, accents, punctuation, the order of its words,
 * and company forms at its end.
 * @example foldName('Quill, Orla') === foldName('ORLA QUILL') // true
 * @example foldName('Bramble & Fitch Ltd.') === foldName('Bramble Fitch') // true
 */
export const foldName = (name: string): string => {
  const words = foldText(name.replace(/(?<=\p{L})\.(?=\p{L}(\.|\b))/gu, '').replace(/['’]/g, '')).split(' ')
  while (words.length > 1 && companyForms.has(words.at(-1) as string)) words.pop()
  return words.sort().join(' ')
}
