import path from 'node:path'
import { backUp } from '~~/server/services/backup'
import { KeyOnly } from '~~/shared/primitives'

// Asked twice it is made twice, which harms nobody: no transaction is held open while it is written.
export default route('people', async (event) => {
  input(KeyOnly, await readBody(event))
  const { file, bytes } = await backUp()
  return { id: path.basename(file), bytes }
})
