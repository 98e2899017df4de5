import type { Trait } from '~~/shared/catalogue'

/** The traits that a group asks for of the lots and pieces of its items, its own before those of the groups above. */
export function useTraitRules(groupId: number): Trait[] {
  const references = useReferences()
  const all: Trait[] = []
  for (
    let group = references.groups.find((one) => one.id === groupId);
    group;
    group = references.groups.find((one) => one.id === group!.parentId)
  ) {
    for (const trait of group.traits) {
      if (!all.some((one) => one.name === trait.name)) {
        all.push(trait)
      }
    }
  }
  return all
}
