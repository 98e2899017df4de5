import { eq } from 'drizzle-orm'
import sharp from 'sharp'
import { db, type Tx } from '~~/server/database/client'
import { batches, pictures } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { refusalOf, saveAll, shapeOf } from './definitions'
import { loadItems } from './definitions/item-store'
import { loadNames } from './tables/names'

const LARGEST = 40_000_000
const FULL = 1200
const SMALL = 96
/** How the files begin that are taken; everything else is refused before any of it is read further. */
const BEGINNINGS = [/^\x89PNG\r\n/, /^\xff\xd8\xff/, /^RIFF[\s\S]{4}WEBP/] as const
const NO_PICTURE = 'This is no picture that can be read. Choose a PNG, JPEG or WebP file.'

/**
 * Takes a picture in: read by its content whatever its name says, turned upright, made no larger than a screen asks
 * for, and kept as JPEG, so that nothing of the file but its pixels is stored. It is decoded in threads of the library's
 * own, up to the limit only.
 *
 * Errors: `invalid-input` for what is no picture, or one of more than 40 million pixels.
 */
export async function keepPicture(content: Buffer, writer: Pick<Tx, 'insert'> = db): Promise<{ id: number }> {
  await requirePicture(content)
  const upright = sharp(content, { limitInputPixels: LARGEST }).rotate().flatten({ background: '#ffffff' })
  const size = { width: FULL, height: FULL, fit: 'inside', withoutEnlargement: true } as const
  const [full, small] = await Promise.all([
    upright.clone().resize(size).jpeg({ quality: 82 }).toBuffer({ resolveWithObject: true }),
    upright.clone().resize({ width: SMALL, height: SMALL, fit: 'cover' }).jpeg({ quality: 78 }).toBuffer(),
  ]).catch(() => refuseField('content', NO_PICTURE))
  const [made] = await writer
    .insert(pictures)
    .values({ width: full.info.width, height: full.info.height, full: full.data, small })
    .returning({ id: pictures.id })
  return made!
}

/** Width × height as the head of the file says: a small file can claim to be endless. */
async function requirePicture(content: Buffer): Promise<void> {
  const beginning = content.toString('latin1', 0, 12)
  const head = BEGINNINGS.some((form) => form.test(beginning))
    ? await sharp(content, { limitInputPixels: false })
        .metadata()
        .catch(() => null)
    : null
  if (!head) {
    return refuseField('content', NO_PICTURE)
  }
  if (head.width * head.height > LARGEST) {
    refuseField('content', 'The picture has more than 40 million pixels. Make it smaller first.')
  }
}

export async function loadPicture(id: number, size: 'full' | 'small'): Promise<Buffer> {
  const [row] = await db
    .select({ bytes: size === 'full' ? pictures.full : pictures.small })
    .from(pictures)
    .where(eq(pictures.id, id))
  if (!row) {
    throw new Refusal('not-found', 'There is no such picture.')
  }
  return row.bytes
}

export interface PictureFile {
  readonly name: string
  readonly content: Buffer
}

/**
 * Gives items pictures from files that are named by their codes (`NB-A5-RED.jpg`), all of them or none; taken back
 * together.
 *
 * Errors: `invalid-input` beside `files.n` for a name that is no item's code, and for what is no picture.
 */
export async function picturesOfItems(
  tx: Tx,
  actor: Actor,
  files: readonly PictureFile[],
): Promise<{ batchId: number; changed: number }> {
  const names = await loadNames(tx, ['items'])
  const fields: Record<string, string> = {}
  const ids = files.map(({ name }, index) => {
    const code = name.replace(/\.[a-z]+$/i, '')
    const id = names.idOf('items', code)
    if (id === undefined) {
      fields[`files.${index}`] = `There is no item “${code}”. Name each picture by the code of its item.`
    }
    return id ?? 0
  })
  if (Object.keys(fields).length > 0) {
    throw new Refusal('invalid-input', Object.values(fields)[0]!, fields)
  }
  const kept = new Map<number, number>()
  for (const [index, { content }] of files.entries()) {
    kept.set(ids[index]!, (await keepPicture(content, tx)).id)
  }
  const [batch] = await tx
    .insert(batches)
    .values({ kind: 'set', table: 'items', label: `${files.length} pictures`, userId: actor.userId, state: 'done' })
    .returning({ id: batches.id })
  const edits = (await loadItems(tx, [...kept.keys()])).map(({ id, version, ...definition }) => {
    void version
    return { id, version: null, definition: { ...definition, pictureId: kept.get(id)! } }
  })
  const saved = await saveAll(tx, actor, shapeOf('items'), edits, { batchId: batch!.id })
  if (!saved.ok) {
    throw refusalOf(saved.error)
  }
  return { batchId: batch!.id, changed: saved.value.changed }
}
