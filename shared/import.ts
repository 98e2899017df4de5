import { z } from 'zod'

export const ImportFiles = z.object({
  files: z.array(z.object({ name: z.string().regex(/^[a-z-]+\.csv$/, 'Name each file as the list beside it says, for example items.csv.'), text: z.string().max(20_000_000, 'Keep a file under 20 MB.') })).min(1, 'Choose at least one file.'),
})
