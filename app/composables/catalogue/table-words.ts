/** A table's or a column's name as people read it. */
export const tableWords = (name: string): string =>
  name === 'name2' ? 'name in a second language' : name.replaceAll('-', ' ').replaceAll('_', ' ')
