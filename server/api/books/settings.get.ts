import { loadBookSettings } from '~~/server/services/books/periods'

export default route('see', async (event) => {
  void event
  return loadBookSettings()
})
