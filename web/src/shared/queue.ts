/**
 * Work that is done in the order it was asked for, each once all before it is done.
 *
 * @example const inTurn = useQueue(attempt); await inTurn(async () => { … })
 */
export function useQueue(
  attempt: (work: () => Promise<void>) => Promise<boolean>,
): (work: () => Promise<void>) => Promise<boolean> {
  let last: Promise<boolean> = Promise.resolve(true)
  return (work) => {
    last = last.then(() => attempt(work))
    return last
  }
}
