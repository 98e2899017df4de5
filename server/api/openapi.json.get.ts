import { readFile } from 'node:fs/promises'
import { shippedFiles } from '~~/server/utils/shipped-files'
import type { ApiDescription } from '~~/shared/running/api-description'

/** What a script can ask: the description of this interface by OpenAPI 3.1. */
export default route(
  'see',
  async () => JSON.parse(await readFile(shippedFiles('openapi.json'), 'utf8')) as ApiDescription,
)
