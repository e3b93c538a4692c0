import type { ItemRow, SeenProduct } from '@culvert/contract'
import { forgetName, learnName } from '@culvert/core'

/** What a product is learned by: its SKU, without one its title. */
export const nameToLearn = (product: Pick<SeenProduct, 'sku' | 'title'>): string => product.sku || product.title

/** The items that change when a person says which one a product is: that one learns its name, all others forget it. */
export const itemsLearning = (
  product: Pick<SeenProduct, 'sku' | 'title'>,
  code: string,
  items: readonly ItemRow[],
): ItemRow[] =>
  items.flatMap(item => {
    const name = nameToLearn(product)
    const changed = item.code === code ? learnAs(item, name) : forgetName(item, name)
    return changed.otherNames.length === item.otherNames.length ? [] : [withNames(item, changed.otherNames)]
  })

// An item's own name may be another's as well: what is learned by it is kept all the same, since a known name goes before it.
const learnAs = (item: ItemRow, name: string) => learnName({ ...item, name: '' }, name)

/** The items that a product's SKU and title are unlearned of. */
export const itemsForgetting = (product: Pick<SeenProduct, 'sku' | 'title'>, items: readonly ItemRow[]): ItemRow[] =>
  items.flatMap(item => {
    const left = forgetName(forgetName(item, product.sku), product.title).otherNames
    return left.length === item.otherNames.length ? [] : [withNames(item, left)]
  })

const withNames = (item: ItemRow, otherNames: readonly string[]): ItemRow => ({ ...item, otherNames: [...otherNames] })
