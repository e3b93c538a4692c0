/** A file that was chosen on one page and is looked at on the next; a page that is loaded anew asks for it again. */
let held: File | null = null

export const holdFile = (file: File | null): void => {
  held = file
}
export const heldFile = (): File | null => held
