/** Talking to the service. Every call is typed by the OpenAPI document: addresses, what is sent and what is answered. */
import createClient from 'openapi-fetch'
import { Away, Refused } from './refused'
import type { components, paths } from './schema'

type Schemas = components['schemas']
/** A part of the document as it is answered: all of it is there. As it is sent, what has a default may be left out. */
type Whole<Name extends string> = `${Name}-Output` extends keyof Schemas ? Schemas[`${Name}-Output`] : never
type Sent<Name extends string> = `${Name}-Input` extends keyof Schemas ? Schemas[`${Name}-Input`] : never

export type ProjectSummary = Schemas['ProjectSummary']
export type ProjectState = Schemas['ProjectState']
export type Project = Whole<'Project'>
export type Clip = Whole<'Clip'>
export type Step = Whole<'Step'>
export type Property = Step['mix']
export type Edit = Schemas['EditOrder']['edit']
export type EditAnswer = Schemas['EditAnswer']
export type ClipCourse = Schemas['ClipCourse']
export type Courses = Schemas['Courses']
export type SpanCourse = Schemas['SpanCourse']
export type Curve = Schemas['Curve']
export type Handles = Schemas['Handles']
export type Tally = Schemas['Tally']
export type Catalogue = Schemas['Catalogue']
export type ParameterInfo = Schemas['ParameterInfo']
export type KindInfo = Schemas['KindInfo']
export type Cascade = Whole<'Cascade'>
export type RecipeInfo = Schemas['RecipeInfo']
export type EnsembleInfo = Schemas['EnsembleInfo']
export type Ensemble = EnsembleInfo['ensemble']
export type EnsemblePart = NonNullable<Ensemble['parts']>[number]
export type FilmLook = Schemas['FilmLook']
export type FilmMedia = Schemas['FilmMedia']
export type Recipe = RecipeInfo['recipe']
export type Words = Schemas['Words']
export type Styled = Whole<'Styled'>
export type Track = Whole<'Track'>
export type Marker = Whole<'Marker'>
export type Transition = Whole<'Transition'>
export type Shutter = Whole<'Shutter'>
export type Ease = Schemas['EaseInfo']['ease']
export type EaseInfo = Schemas['EaseInfo']
export type Trail = Schemas['Trail']
export type Meeting = Schemas['Meeting']
export type Cell = Schemas['Cell']
export type Motor = Whole<'Driven'>['motor']
export type Value = Whole<'Fixed'>['value']
export type CopiedKey = Schemas['CopiedKey']
export type Media = Whole<'Media'>
export type AddedMedia = Schemas['AddedMedia']
export type ExportJob = Schemas['ExportJob']
export type ExportEstimate = Schemas['ExportEstimate']
export type FollowJob = Schemas['FollowJob']
export type PointNow = Schemas['PointNow']
export type Levels = Schemas['Levels']
export type FilmLoudness = Schemas['FilmLoudness']
export type FilmCaptions = Schemas['FilmCaptions']
export type CaptionsPreview = Schemas['CaptionsPreview']
export type Surroundings = Schemas['Surroundings']
export type Conflict = Schemas['Conflict']
export type Offer = Omit<Schemas['Offered'], 'edit'> & { edit: Edit }
export type TranscribeJob = Schemas['TranscribeJob']

export type SentStyled = Sent<'Styled'>
export type SentTransition = Sent<'Transition'>
export type SentCascade = Sent<'Cascade'>
export type SentShutter = Sent<'Shutter'>
export type SentMotor = Sent<'Driven'>['motor']
export type Content = Clip['content']
export type TextContent = Extract<Content, { kind: 'text' }>

function sentence(body: unknown, status: number): string {
  const detail = body && typeof body === 'object' && 'detail' in body ? body.detail : null
  return typeof detail === 'string' ? detail : `The service answered ${status}.`
}

/** One request each, by method and address. A service that can't be reached rejects with TypeError. */
export const api = createClient<paths>({ baseUrl: location.origin })

/** What was answered; rejects with Refused when the service refuses. */
export async function answered<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call.catch((failure: Error) => { throw failure.name === 'TypeError' ? new Away() : failure })
  if (!response.ok) throw new Refused(response.status, sentence(error, response.status), error)
  // An answer without a body is typed as nothing.
  return data!
}

/** Where a line of messages is reached. */
export const lineTo = (path: string) => `${location.origin.replace(/^http/, 'ws')}/api${path}`

/** An error in words. */
export const said = (error: unknown) => (error instanceof Error ? error.message : String(error))
