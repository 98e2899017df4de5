import { crc32, deflateRawSync } from 'node:zlib'

/** A ZIP archive of one file (PKWARE APPNOTE), which says of itself that it has
 * `said` bytes once it is unpacked. */
export function zipOf(name: string, content: Buffer, said = content.length): Buffer {
  const packed = deflateRawSync(content)
  const sizes = Buffer.alloc(16)
  sizes.writeUInt32LE(crc32(content), 0)
  sizes.writeUInt32LE(packed.length, 4)
  sizes.writeUInt32LE(said, 8)
  sizes.writeUInt16LE(name.length, 12)
  const how = Buffer.from('14000000080000000000', 'hex')
  const local = Buffer.concat([Buffer.from('504b0304', 'hex'), how, sizes, Buffer.from(name), packed])
  const entry = Buffer.concat([Buffer.from('504b01021400', 'hex'), how, sizes, Buffer.alloc(14), Buffer.from(name)])
  const end = Buffer.alloc(22)
  end.writeUInt32LE(0x06054b50, 0)
  end.writeUInt16LE(1, 8)
  end.writeUInt16LE(1, 10)
  end.writeUInt32LE(entry.length, 12)
  end.writeUInt32LE(local.length, 16)
  return Buffer.concat([local, entry, end])
}
