/** The typed client of Wempa's own service; types come from its OpenAPI schema. */
import createClient from 'openapi-fetch'

import type { components, paths } from '../generated/schema'
import { tabName } from './tab'
import { useTrouble } from './trouble'

export type Schemas = components['schemas']
export type StashInk = Schemas['StashInk']
export type StashCard = Schemas['StashCard']
export type Desk = Schemas['OverlapDesk']
export type Overlap = Schemas['OverlapOut']
export type OverlapItem = Schemas['OverlapItem']
export type Entry = Schemas['StackEntry']
export type Crossing = Schemas['CrossingOut']
export type Look = Schemas['LookOut']
export type Cut = Schemas['CutOut']
export type Summary = Schemas['OverlapSummary']
export type Advice = Schemas['Advice']
export type Fix = Schemas['FixOut']
export type Nudge = Schemas['NudgeOut']
export type StackChange = Schemas['StackChange']
/** A change of a stack; what is not said has the service's default. */
export type StackEdit = Pick<Schemas['StackEdit'], 'do'> & Partial<Schemas['StackEdit']>
export type Beside = Schemas['Beside']
export type Strip = Schemas['StripOut']
export type AmountField = Schemas['AmountFieldOut']
export type StashView = Schemas['StashView']
export type StashTool = Schemas['StashTool']
export type InkItem = Schemas['InkItem']
export type CardItem = Schemas['CardItem']
export type ToolItem = Schemas['ToolItem']
export type RangeItem = Schemas['RangeItem']
export type Reminder = Schemas['ReminderOut']
export type Change = Schemas['Change']
export type Photo = Schemas['PhotoOut']
export type Marked = Schemas['MarkedOut']
export type Reading = Schemas['ReadingOut']
export type ReadOut = Schemas['ReadOut']
export type StepArea = Schemas['StepArea']
export type ReadIn = Schemas['ReadIn']
export type PhoneKnown = Schemas['PhoneOut']
export type Measured = Schemas['MeasuredOut']
export type ImportOut = Schemas['ImportOut']
export type CopiesOut = Schemas['CopiesOut']
export type CopyOut = Schemas['CopyOut']
export type Unreadable = Schemas['UnreadableOut']
export type TestStep = Schemas['TestStep']
export type TestFinding = Schemas['TestFinding']
export type GuideFormula = Schemas['GuideFormula']
export type GivenColour = Schemas['Colour']
export type CrossingPair = Schemas['CrossingPair']
export type ChartIn = Schemas['ChartIn']
export type ChartHead = Schemas['ChartHead']
export type StudyHead = Schemas['StudyHead']
export type Cell = Schemas['CellOut']
export type Company = Schemas['CompanyOut']
export type AloneList = Schemas['AloneList']
export type CompanyList = Schemas['CompanyList']
export type MatchIn = Schemas['MatchIn']
export type MatchLine = Schemas['MatchLine']
export type MatchAnswer = Schemas['AnswerOut']
export type Target = Schemas['TargetIn']
export type Reserve = Schemas['ReserveOut']
export type PanelItem = Schemas['PanelItem']
export type Panel = Schemas['PanelOut']
export type PaintedPanel = Schemas['PaintedPanel']
export type PanelEdit = Pick<Schemas['PanelEdit'], 'do'> & Partial<Schemas['PanelEdit']>
export type PanelDesk = Schemas['PanelDesk']
export type PanelSummary = Schemas['PanelSummary']
export type PanelBand = Schemas['BandIn']
export type PanelSeam = Schemas['SeamIn']
export type PanelTop = Schemas['TopIn']
export type PanelStudy = Schemas['StudyOut']
export type SeamFix = Schemas['SeamFixOut']
export type Through = Schemas['ThroughOut']
export type Swatch = Schemas['SwatchOut']
export type SwatchItem = Schemas['SwatchItem']
export type Book = Schemas['BookOut']
export type LearnLine = Schemas['LearnLine']
export type Learned = Schemas['LearnedOut']
export type NextSquares = Schemas['NextOut']
export type Guess = Schemas['GuessOut']
export type Guessed = Schemas['GuessedOut']
export type DraftsIn = Schemas['DraftsIn']
export type Table = Schemas['TableOut']
export type Choosable = Schemas['Choosable']
export type Evening = Schemas['EveningOut']
export type Habits = Schemas['StoredHabits']
export type Run = Schemas['RunOut']
export type TableStep = Schemas['TableStep']
export type Timer = Schemas['TimerOut']
export type Piece = Schemas['TablePiece']
export type FaultTold = Schemas['FaultOut']
export type SpotAt = Schemas['SpotOut']
export type WetPhoto = Schemas['WetPhotoOut']
export type Pairing = Schemas['PairingOut']
export type EyeColour = Schemas['EyeColour']
export type EyeField = Schemas['EyeField']
export type EyeAround = Schemas['EyeAround']
export type EyeStart = Schemas['EyeStart']
export type NextList = Schemas['NextInkList']
export type Listed = Schemas['ListedOut']
export type Asked = Schemas['DoubtOut']
export type PanelWindow = Schemas['WindowIn']

/** Every question says which tab asks. */
const named = { 'x-wempa-tab': tabName() }

export const api = createClient<paths>({ baseUrl: '/', headers: named })

/** A refusal by the service, in its own one sentence. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message)
    if (status === 401) useTrouble().unpaired.value = true
  }
}

const silent = (): Refused => new Refused('Wempa does not answer. Is it still running?', 0)

/** What the service said instead of an answer. */
async function refusal(response: Response): Promise<Refused> {
  const said = (await response.json().catch(() => ({}))) as { error?: string }
  return new Refused(said.error ?? `Wempa refused (${response.status}).`, response.status)
}

/** An answer as it comes; throws `Refused` where there is none or it is a refusal. */
export async function fetched(path: string, init?: RequestInit): Promise<Response> {
  let response: Response
  try {
    response = await fetch(path, {
      ...init,
      headers: { ...(init?.headers as Record<string, string> | undefined), ...named },
    })
  } catch (error) {
    if (init?.signal?.aborted) throw error
    throw silent()
  }
  if (!response.ok) throw await refusal(response)
  return response
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
    throw silent()
  }
  if (got.data !== undefined && got.data !== null && got.response.ok) return got.data
  const said = got.error as { error?: string } | undefined
  throw new Refused(said?.error ?? `Wempa refused (${got.response.status}).`, got.response.status)
}

/** The data of an answer that may be null. */
export const needOrNull = <T>(answer: Promise<Answer<T | null>>): Promise<T | null> =>
  need<{ data: T | null }>(
    answer.then((got) => ({ ...got, data: got.response.ok ? { data: got.data ?? null } : undefined })),
  ).then((got) => got.data)

/** Send a file as it is; the service says what it makes of it. */
export async function sendFile<T>(path: string, file: Blob | string): Promise<T> {
  const init = { method: 'POST', body: file, headers: { 'content-type': 'application/octet-stream' } }
  return (await (await fetched(path, init)).json()) as T
}

/** Head and what follows it of an answer in bytes. */
export async function framed<T>(
  path: string,
  body: unknown,
  headers: Record<string, string> = {},
): Promise<{ head: T; bytes: Uint8Array }> {
  const init = {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify(body),
  }
  const bytes = new Uint8Array(await (await fetched(path, init)).arrayBuffer())
  const length = new DataView(bytes.buffer).getUint32(0, true)
  return {
    head: JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as T,
    bytes: bytes.subarray(4 + length),
  }
}

/** Lines of JSON as they come; aborting hangs up. */
export async function* linesOf<T>(path: string, init: RequestInit): AsyncGenerator<T> {
  const response = await fetched(path, init)
  if (!response.body) return
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    const whole = `${rest}${value ?? ''}`.split('\n')
    rest = whole.pop() ?? ''
    for (const line of whole) if (line) yield JSON.parse(line) as T
    if (done) return
  }
}
