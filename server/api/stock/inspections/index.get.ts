import { listInspections } from '~~/server/services/inspection/list-inspections'
import { InspectionQuery } from '~~/shared/inspection/requests'

export default route('see', (event, actor) => listInspections(input(InspectionQuery, getQuery(event)), actor.today))
