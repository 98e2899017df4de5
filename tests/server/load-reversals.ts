import { loadReversals } from '~~/server/services/reversals'

loadReversals()
