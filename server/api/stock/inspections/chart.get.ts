import { runCharts } from '~~/server/services/inspection/run-chart'
import { RunChartQuery } from '~~/shared/inspection/requests'

export default route('see', (event) => {
  const { plan, item } = input(RunChartQuery, getQuery(event))
  return runCharts(plan, item)
})
