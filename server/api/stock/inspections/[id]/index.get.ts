import { loadInspection } from '~~/server/services/inspection/load-inspection'
import { IdParam } from '~~/shared/primitives'

export default route('see', (event) => loadInspection(input(IdParam, getRouterParams(event)).id))
