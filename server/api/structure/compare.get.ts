import { comparisonFile } from '~~/server/services/structure/files'
import { compareBills } from '~~/server/services/structure/compare-bills'
import { CompareQuery } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => {
  const { before, after, basis, format } = input(CompareQuery, getQuery(event))
  const answer = await compareBills(before, after, basis, actor.today)
  return format === 'json'
    ? answer
    : asFile(
        event,
        `revision ${answer.before.revision} to ${answer.after.revision}`,
        format,
        await comparisonFile(answer, format),
      )
})
