/** One thing that a field offers. `code` finds it as well as its name. */
export interface Choice {
  readonly value: string | number | null
  readonly name: string
  readonly code?: string
  readonly detail?: string
}

/** More choices than these are found by typing. */
export const FEW_CHOICES = 12

/** The choices that hold every typed word in their name or code; those that begin with the text come first. */
export function matchingChoices(choices: readonly Choice[], text: string): readonly Choice[] {
  const typed = text.trim().toLowerCase()
  if (typed === '') {
    return choices
  }
  const words = typed.split(/\s+/)
  const textOf = (choice: Choice): string => `${choice.code ?? ''} ${choice.name}`.toLowerCase()
  const begins = (choice: Choice): boolean =>
    choice.name.trim().toLowerCase().startsWith(typed) || (choice.code ?? '').toLowerCase().startsWith(typed)
  return choices
    .filter((choice) => words.every((word) => textOf(choice).includes(word)))
    .sort((first, second) => Number(begins(second)) - Number(begins(first)))
}
