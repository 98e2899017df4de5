import { eq } from 'drizzle-orm'
import { Jimp } from 'jimp'
import { db } from '~~/server/database/client'
import { pictures } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'

const LARGEST = 40_000_000
const FULL = 1200
const SMALL = 96

/**
 * Takes a picture in: read by its content whatever its name says, turned upright, made no larger than a screen asks for, and
 * kept as JPEG, so that nothing of the file but its pixels is stored.
 *
 * Errors: `invalid-input` for what is no picture, or one of more than 40 million pixels.
 */
export async function keepPicture(content: Buffer): Promise<{ id: number }> {
  if (pixelsOf(content) > LARGEST) throw new Refusal('invalid-input', 'The picture has more than 40 million pixels. Make it smaller first.', { content: 'The picture has more than 40 million pixels. Make it smaller first.' })
  const picture = await Jimp.read(content).catch(() => { throw new Refusal('invalid-input', 'This is no picture that can be read. Choose a PNG, JPEG, GIF or BMP file.', { content: 'This is no picture that can be read. Choose a PNG, JPEG, GIF or BMP file.' }) })
  const ground = new Jimp({ width: picture.width, height: picture.height, color: 0xffffffff }).composite(picture)
  const full = ground.width > FULL || ground.height > FULL ? ground.scaleToFit({ w: FULL, h: FULL }) : ground
  const small = full.clone().cover({ w: SMALL, h: SMALL })
  const [made] = await db.insert(pictures).values({ width: full.width, height: full.height, full: await full.getBuffer('image/jpeg', { quality: 82 }), small: await small.getBuffer('image/jpeg', { quality: 78 }) }).returning({ id: pictures.id })
  return made!
}

/** Width × height as the head of a PNG says, before anything is unpacked; other kinds are bounded by their decoders. */
function pixelsOf(content: Buffer): number {
  return content.length > 24 && content.readUInt32BE(0) === 0x89504E47 ? content.readUInt32BE(16) * content.readUInt32BE(20) : 0
}

export async function loadPicture(id: number, size: 'full' | 'small'): Promise<Buffer> {
  const [row] = await db.select({ bytes: size === 'full' ? pictures.full : pictures.small }).from(pictures).where(eq(pictures.id, id))
  if (!row) throw new Refusal('not-found', 'There is no such picture.')
  return row.bytes
}
