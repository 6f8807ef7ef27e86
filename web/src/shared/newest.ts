/**
 * Asking the same thing again before the answer is there: what comes back late is not shown any more.
 *
 * Whoever asked earlier waits for the newest answer too, so that what is shown is up to date afterwards.
 *
 * @example const fetchBook = useNewest(() => need(api.GET('/api/log')), (found) => (book.value = found))
 */
export function useNewest<Of extends unknown[], T>(
  ask: (...of: Of) => Promise<T>,
  show: (found: T, of: NoInfer<Of>) => unknown,
): (...of: Of) => Promise<void> {
  let count = 0
  let newest: Promise<void> = Promise.resolve()

  async function turn(own: number, of: Of): Promise<void> {
    let found: T
    try {
      found = await ask(...of)
    } catch (error) {
      if (own === count) throw error
      return newest
    }
    if (own !== count) return newest
    show(found, of)
  }

  return (...of) => {
    newest = turn(++count, of)
    return newest
  }
}
