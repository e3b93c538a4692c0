/** Opening and closing balance of rows that each state the balance after, or in files that begin with the latest, before the others. */
export interface StatedBalances {
  readonly opening: number
  readonly closing: number
}

/**
 * Follows the balances that stand beside movements, row by row: whichever way the rows run, each balance has to be the one before plus the movement. Minor units.
 * @example one movement of 5 with the balance 12 beside it: opening 7, closing 12
 */
export class RunningBalance {
  private count = 0
  private upwards = true
  private downwards = true
  private broken = false
  private firstAmount = 0
  private firstBalance = 0
  private lastAmount = 0
  private lastBalance = 0

  /** `balance` null: none stands beside this movement, and then nothing is known of the whole. */
  add(amount: number, balance: number | null): void {
    if (balance === null) {
      this.broken = true
      return
    }
    if (this.count === 0) {
      this.firstAmount = amount
      this.firstBalance = balance
    } else {
      this.upwards &&= balance === this.lastBalance + amount
      this.downwards &&= balance === this.lastBalance - this.lastAmount
    }
    this.count++
    this.lastAmount = amount
    this.lastBalance = balance
  }

  /** Null where the balances do not follow from each other, or are not all there. */
  stated(): StatedBalances | null {
    if (this.broken || this.count === 0) return null
    if (this.upwards) return { opening: this.firstBalance - this.firstAmount, closing: this.lastBalance }
    if (this.downwards) return { opening: this.lastBalance - this.lastAmount, closing: this.firstBalance }
    return null
  }
}
