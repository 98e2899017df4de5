import { readWorkBoard } from '~~/server/services/workshop/work-board'
import { WorkBoardQuery } from '~~/shared/workshop/board'

export default route('see', async (event, actor) => readWorkBoard(input(WorkBoardQuery, getQuery(event)), actor.today))
