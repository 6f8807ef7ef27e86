/** Lists of words as choices of a select. */
export interface Choice<T> {
  value: T
  label: string
}

/** Words of a list as choices, in its order. */
export const choices = <T extends string>(words: readonly T[], said: Record<T, string>): Choice<T>[] =>
  words.map((value) => ({ value, label: said[value] }))
