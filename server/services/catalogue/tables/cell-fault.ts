/** A cell that cannot be taken: the sentence that stands at its line and column. */
export class CellFault extends Error {}
