import * as z from 'zod'
import { Text } from '../primitives'

export const NewPicture = z.object({
  content: z.base64('The picture could not be read.').max(30_000_000, 'Keep a picture under 20 MB.'),
})

export const PictureFiles = z.object({
  files: z
    .array(
      z.object({
        name: Text('a file name', 120),
        content: z.base64('The picture could not be read.').max(30_000_000, 'Keep a picture under 20 MB.'),
      }),
    )
    .min(1, 'Choose at least one picture.')
    .max(200, 'Two hundred pictures at a time.'),
})

export const PictureQuery = z.object({ size: z.enum(['full', 'small']).default('full') })
