export interface Product {
  readonly sku: string
  readonly name: string
  readonly category: 'Tableware' | 'Glaze kits' | 'Classes' | 'Books'
  /** Price with tax, minor units of EUR. */
  readonly price: number
  /** How often it is bought, beside the others. */
  readonly weight: number
}

/** What Kiln Lane Ceramics sells. */
export const products: readonly Product[] = [
  { sku: 'BOWL-L', name: 'Large bowl', category: 'Tableware', price: 4500, weight: 7 },
  { sku: 'BOWL-S', name: 'Small bowl', category: 'Tableware', price: 2400, weight: 11 },
  { sku: 'MUG-B', name: 'Blue mug', category: 'Tableware', price: 1999, weight: 18 },
  { sku: 'MUG-W', name: 'White mug', category: 'Tableware', price: 1850, weight: 15 },
  { sku: 'PLATE-D', name: 'Dinner plate', category: 'Tableware', price: 2850, weight: 9 },
  { sku: 'JUG-1', name: 'Milk jug', category: 'Tableware', price: 3600, weight: 5 },
  { sku: 'VASE-T', name: 'Tall vase', category: 'Tableware', price: 7900, weight: 3 },
  { sku: 'KIT-1', name: 'Starter glaze kit', category: 'Glaze kits', price: 3250, weight: 8 },
  { sku: 'KIT-2', name: 'Ash glaze kit', category: 'Glaze kits', price: 4175, weight: 5 },
  { sku: 'EVE-1', name: 'Evening class', category: 'Classes', price: 6000, weight: 4 },
  { sku: 'DAY-1', name: 'Wheel day', category: 'Classes', price: 11500, weight: 2 },
  { sku: 'BOOK-1', name: 'Throwing for beginners', category: 'Books', price: 1500, weight: 4 },
  { sku: 'BOOK-2', name: 'Notes on glaze', category: 'Books', price: 2200, weight: 2 },
]

export const buyers = [
  'Una Reddy',
  'Piet Vale',
  'Ida Stone',
  'Marten Holm',
  'Sorcha Lynn',
  'Tomas Brae',
  'Elke Winter',
  'Noé Garance',
  'Hana Birk',
  'Ruth Calder',
] as const
