import type { Trait } from '~~/shared/catalogue/item-parts'

/** The traits that a group asks for of the lots and pieces of its items, its own before those of the groups above. */
export function useTraitRules(groupId: number): Trait[] {
  const references = useReferences()
  const all: Trait[] = []
  for (
    let group = references.groups.find((group) => group.id === groupId);
    group;
    group = references.groups.find((entry) => entry.id === group!.parentId)
  ) {
    for (const trait of group.traits) {
      if (!all.some((entry) => entry.name === trait.name)) {
        all.push(trait)
      }
    }
  }
  return all
}

/** What a trait that is chosen offers, and nothing first: it may be not stated. */
export const traitChoices = (rule: { readonly choices: string }) => [
  { value: '', name: 'not stated' },
  ...rule.choices
    .split(',')
    .map((choice) => choice.trim())
    .filter(Boolean)
    .map((choice) => ({ value: choice, name: choice })),
]
