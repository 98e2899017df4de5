import { loadReversals } from '~~/server/services/reversals'

/** Whatever can be taken back is known before the first request. */
export default defineNitroPlugin(() => loadReversals())
