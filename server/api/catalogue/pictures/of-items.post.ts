import { picturesOfItems } from '~~/server/services/catalogue/pictures'
import { inTransaction } from '~~/server/database/transactions'
import { PictureFiles } from '~~/shared/catalogue/pictures'

export default route('catalogue', async (event, actor) => {
  const { files } = input(PictureFiles, await readBody(event))
  return inTransaction((tx) =>
    picturesOfItems(
      tx,
      actor,
      files.map((file) => ({ name: file.name, content: Buffer.from(file.content, 'base64') })),
    ),
  )
})
