import { crc32, deflateSync } from 'node:zlib'

/* Files that are small and mean much: each as short as its format allows. */

/** A chunk of PNG (ISO/IEC 15948). */
function chunk(kind: string, content: Buffer): Buffer {
  const length = Buffer.alloc(4)
  length.writeUInt32BE(content.length)
  const named = Buffer.concat([Buffer.from(kind), content])
  const sum = Buffer.alloc(4)
  sum.writeUInt32BE(crc32(named))
  return Buffer.concat([length, named, sum])
}

/** A white picture of one bit a point: some kilobytes that unpack to 400 million points. */
export function png(side: number): Buffer {
  const head = Buffer.alloc(13)
  head.writeUInt32BE(side, 0)
  head.writeUInt32BE(side, 4)
  head.writeUInt8(1, 8)
  return Buffer.concat([
    Buffer.from('89504e470d0a1a0a', 'hex'),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc(side * (1 + side / 8)))),
    chunk('IEND', Buffer.alloc(0)),
  ])
}

/** The head of an extended WebP (RFC 9649), with a canvas of that side. */
export function webp(side: number): Buffer {
  const size = Buffer.alloc(10)
  size.writeUIntLE(side - 1, 4, 3)
  size.writeUIntLE(side - 1, 7, 3)
  return Buffer.concat([Buffer.from('RIFF'), uint32(22), Buffer.from('WEBPVP8X'), uint32(10), size])
}

/** The head of a GIF (89a), and its end. */
export function gif(side: number): Buffer {
  const size = Buffer.alloc(7)
  size.writeUInt16LE(side, 0)
  size.writeUInt16LE(side, 2)
  return Buffer.concat([Buffer.from('GIF89a'), size, Buffer.from(';')])
}

/** A TIFF (6.0) with its two sides alone in its directory. */
export function tiff(side: number): Buffer {
  const entry = (tag: number): Buffer => {
    const bytes = Buffer.alloc(12)
    bytes.writeUInt16LE(tag, 0)
    bytes.writeUInt16LE(4, 2)
    bytes.writeUInt32LE(1, 4)
    bytes.writeUInt32LE(side, 8)
    return bytes
  }
  return Buffer.concat([Buffer.from('49492a0008000000', 'hex'), Buffer.from([2, 0]), entry(256), entry(257), uint32(0)])
}

function uint32(value: number): Buffer {
  const bytes = Buffer.alloc(4)
  bytes.writeUInt32LE(value)
  return bytes
}

/** Every day, for so many years (RFC 5545). */
export const calendarOf = (years: number): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//bench//EN',
    'BEGIN:VEVENT',
    'UID:1',
    'DTSTAMP:20260101T000000Z',
    'DTSTART;VALUE=DATE:20260101',
    `RRULE:FREQ=DAILY;COUNT=${years * 365}`,
    'SUMMARY:Closed',
    'END:VEVENT',
    'END:VCALENDAR',
    '',
  ].join('\r\n')
