/** What this program does of the whole, by the setting ROLE: all of it, answering people, or background work. */
const role = (): string => process.env.ROLE ?? 'all'

export const doesWork = (): boolean => role() !== 'web'
export const answersPeople = (): boolean => role() !== 'worker'
