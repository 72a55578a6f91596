/** The type of a picture by its first bytes (PNG 5.2; JPEG B.1.1.3); null for any other file. */
export function imageType(bytes: Uint8Array): 'image/png' | 'image/jpeg' | null {
  const begins = (...signature: number[]): boolean => signature.every((byte, i) => bytes[i] === byte)
  if (begins(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'image/png'
  return begins(0xff, 0xd8, 0xff) ? 'image/jpeg' : null
}
