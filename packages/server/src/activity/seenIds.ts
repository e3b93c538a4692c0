/** Words of a digest. */
const words = 4
/** Filled to this share the table is doubled. */
const mostFilled = 0.6

/**
 * The ids seen so far, as digests of 128 bits in one table: 32 bytes each, where a Set of a million texts took 150 MB. Two ids
 * with one digest would be told as one id twice; among a million ids that comes once in 10^26 files.
 */
export class SeenIds {
  private table = new Uint32Array(words * 1024)
  private slots = 1024
  private count = 0
  private readonly digest = new Uint32Array(words)

  /** Notes an id. True if it is new, false if it was seen before. */
  add(id: string): boolean {
    if (this.count >= this.slots * mostFilled) this.grow()
    digestInto(this.digest, id)
    const isNew = place(this.table, this.slots, this.digest)
    if (isNew) this.count++
    return isNew
  }

  private grow(): void {
    const { table, slots } = this
    this.slots = slots * 2
    this.table = new Uint32Array(words * this.slots)
    for (let at = 0; at < table.length; at += words)
      if (table[at + 3] !== 0) place(this.table, this.slots, table.subarray(at, at + words))
  }
}

/** Puts a digest into its slot, or the next that is free; false if it is there already. A slot whose last word is 0 is free. */
const place = (table: Uint32Array, slots: number, digest: Uint32Array): boolean => {
  for (let slot = (digest[0] as number) % slots; ; slot = slot + 1 === slots ? 0 : slot + 1) {
    const at = words * slot
    if (table[at + 3] === 0) {
      table.set(digest, at)
      return true
    }
    if (
      table[at] === digest[0] &&
      table[at + 1] === digest[1] &&
      table[at + 2] === digest[2] &&
      table[at + 3] === digest[3]
    )
      return false
  }
}

/** Four lanes that mix each other, in the manner of multiply-and-xor hashes; the last word is never 0. */
const digestInto = (digest: Uint32Array, text: string): void => {
  let [one, two, three, four] = [1_779_033_703, 3_144_134_277, 1_013_904_242, 2_773_480_762]
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    one = two ^ Math.imul(one ^ code, 597_399_067)
    two = three ^ Math.imul(two ^ code, 2_869_860_233)
    three = four ^ Math.imul(three ^ code, 951_274_213)
    four = one ^ Math.imul(four ^ code, 2_716_044_179)
  }
  const mixed = [
    Math.imul(three ^ (one >>> 18), 597_399_067),
    Math.imul(four ^ (two >>> 22), 2_869_860_233),
    Math.imul(one ^ (three >>> 17), 951_274_213),
    Math.imul(two ^ (four >>> 19), 2_716_044_179),
  ] as const
  digest[0] = mixed[0] ^ mixed[1] ^ mixed[2] ^ mixed[3]
  digest[1] = mixed[1] ^ digest[0]
  digest[2] = mixed[2] ^ digest[0]
  digest[3] = mixed[3] ^ digest[0] ^ text.length || 1
}
