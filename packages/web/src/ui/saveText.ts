/** Hands a text over as a file. */
export const saveText = ({
  name,
  text,
  type = 'application/json',
}: {
  readonly name: string
  readonly text: string
  readonly type?: string
}): void => {
  const address = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  URL.revokeObjectURL(address)
}
