declare const written: unique symbol

/**
 * Quantity text that a person or a file wrote, in the writer’s decimal sign. The reader takes nothing else: a stored
 * or computed decimal is plain text or a `Ratio`, so that it cannot be read a second time and mean something different.
 */
export type TypedQuantity = string & { readonly [written]: true }

/** Says of text that a person or a file wrote it: for the edges where such text comes in, and nowhere else. */
export const typedQuantity = (text: string): TypedQuantity => text as TypedQuantity
