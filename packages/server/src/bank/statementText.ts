/** Bytes that are no text in the encoding that they are held to be in. */
export class Undecodable extends Error {
  override readonly name = 'Undecodable'
}

const sliceBytes = 65_536

/** A body as text, a piece at a time. @throws Undecodable; RangeError for an encoding that nobody knows */
export const decodedText = async function* (body: AsyncIterable<Buffer>, encoding: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding, { fatal: true })
  const decode = (bytes?: Buffer): string => {
    try {
      return bytes ? decoder.decode(bytes, { stream: true }) : decoder.decode()
    } catch (error) {
      throw new Undecodable(`not ${encoding}`, { cause: error })
    }
  }
  for await (const chunk of body)
    for (let from = 0; from < chunk.length; from += sliceBytes) yield decode(chunk.subarray(from, from + sliceBytes))
  yield decode()
}

const known: Readonly<Record<string, string>> = {
  ...{ 'utf-8': 'utf-8', utf8: 'utf-8', unicode: 'utf-8', 'us-ascii': 'windows-1252', usascii: 'windows-1252' },
  ...{
    'iso-8859-1': 'iso-8859-1',
    'iso-8859-15': 'iso-8859-15',
    'windows-1252': 'windows-1252',
    '1252': 'windows-1252',
  },
  ...{ 'utf-16': 'utf-16le', '8859-1': 'iso-8859-1' },
}

/** The encoding that the file's own header declares: of an XML, or of OFX 1 (CHARSET beside ENCODING). Null: none that is known. */
export const declaredEncoding = (start: Buffer): string | null => {
  const text = start.subarray(0, 1024).toString('latin1')
  const ofXml = /^\s*<\?xml[^>]*encoding=["']([\w-]+)["']/i.exec(text)?.[1]
  const charset = /CHARSET:([\w-]+)/i.exec(text)?.[1]
  const encoding = /ENCODING:([\w-]+)/i.exec(text)?.[1]
  const ofOfx =
    encoding?.toLowerCase() === 'usascii' && charset && charset.toLowerCase() !== 'none' ? charset : encoding
  return known[(ofXml ?? ofOfx ?? '').toLowerCase()] ?? null
}
