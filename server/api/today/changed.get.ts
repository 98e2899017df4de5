import { changedSince } from '~~/server/services/today/changed-since'

export default route('see', (_, actor) => changedSince(actor.today))
