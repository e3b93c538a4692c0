/** Hands a text over as a file. */
export const saveText = ({ name, text }: { readonly name: string; readonly text: string }): void => {
  const address = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  URL.revokeObjectURL(address)
}
