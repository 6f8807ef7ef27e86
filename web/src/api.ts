/** The typed client of Wempa's own service; types come from its OpenAPI schema. */
import createClient from 'openapi-fetch'

import type { components, paths } from './generated/schema'

type Schemas = components['schemas']
export type StashInk = Schemas['StashInk']
export type StashCard = Schemas['StashCard']
export type Desk = Schemas['Desk']
export type Overlap = Schemas['OverlapOut']
export type OverlapIn = Schemas['OverlapIn']
export type Entry = Schemas['OverlapEntry']
export type Crossing = Schemas['CrossingOut']
export type Result = Schemas['Result']
export type SeenColour = Schemas['Colour']
export type CrossingPair = Schemas['CrossingPair']

export const api = createClient<paths>({ baseUrl: '/' })

/** A refusal by the service, in its own one sentence. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message)
  }
}

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of an answer, or a `Refused` with the service's sentence. */
export async function need<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>
  try {
    got = await answer
  } catch {
    throw new Refused('Wempa does not answer. Is it still running?', 0)
  }
  if (got.data !== undefined && got.response.ok) return got.data
  const said = got.error as { error?: string } | undefined
  throw new Refused(said?.error ?? `Wempa refused (${got.response.status}).`, got.response.status)
}
