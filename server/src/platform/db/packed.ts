/** Numbers that the database sent one after another (int2send, int4send, float4send), in our byte order and in memory of their own. */
export function packedNumbers(bytes: Buffer | null, size: 2 | 4): ArrayBuffer {
  const memory = new ArrayBuffer(bytes?.length ?? 0)
  if (!bytes) return memory
  const own = Buffer.from(memory)
  bytes.copy(own)
  if (size === 4) own.swap32()
  else own.swap16()
  return memory
}
