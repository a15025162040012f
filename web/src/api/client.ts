/** Talking to the service. Every call is typed by the OpenAPI document. */
import type { components } from './schema'

type Schemas = components['schemas']
export type ProjectSummary = Schemas['ProjectSummary']
export type ProjectState = Schemas['ProjectState']
export type Project = Schemas['Project']
export type Clip = Schemas['Clip']
export type Step = Schemas['Step']
export type Property = Step['mix']
export type Edit = Schemas['EditOrder']['edit']
export type EditAnswer = Schemas['EditAnswer']
export type ClipDrawing = Schemas['ClipDrawing']
export type Drawings = Schemas['Drawings']
export type SpanDrawing = Schemas['SpanDrawing']
export type Curve = Schemas['Curve']
export type Handles = Schemas['Handles']
export type Catalogue = Schemas['Catalogue']
export type ParameterInfo = Schemas['ParameterInfo']
export type KindInfo = Schemas['KindInfo']
export type Cascade = Schemas['Cascade']
export type RecipeInfo = Schemas['RecipeInfo']
export type Recipe = RecipeInfo['recipe']
export type Words = Schemas['Words']
export type Styled = Schemas['Styled']
export type Track = Schemas['Track']
export type Marker = Schemas['Marker']
export type Transition = Schemas['Transition']
export type Shutter = Schemas['Shutter']
export type Ease = Schemas['EaseInfo']['ease']
export type EaseInfo = Schemas['EaseInfo']
export type Trail = Schemas['Trail']
export type Meeting = Schemas['Meeting']
export type Cell = Schemas['Cell']
export type Motor = Schemas['Driven']['motor']
export type Value = Schemas['Fixed']['value']
export type CopiedKey = Schemas['CopiedKey']
export type Media = Schemas['Media']
export type AddedMedia = Schemas['AddedMedia']
export type ExportJob = Schemas['ExportJob']

/** The service said no, and why. */
export class Refused extends Error {
  constructor(readonly status: number, message: string, readonly body: unknown) {
    super(message)
  }
}

function sentence(body: unknown, status: number): string {
  const detail = (body as { detail?: unknown } | null)?.detail
  if (typeof detail === 'string') return detail
  if (Array.isArray(detail) && detail.length) return `Not taken: ${detail[0].msg}. Nothing was changed.`
  return `The service answered ${status}.`
}

/** One request; rejects with Refused when the service refuses, with TypeError when it can't be reached. */
export async function ask<T>(method: string, path: string, body?: unknown): Promise<T> {
  const answer = await fetch(`/api${path}`, {
    method,
    headers: body === undefined ? {} : { 'content-type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  })
  const json = await answer.json().catch(() => null)
  if (!answer.ok) throw new Refused(answer.status, sentence(json, answer.status), json)
  return json as T
}

export const get = <T>(path: string) => ask<T>('GET', path)
export const post = <T>(path: string, body: unknown) => ask<T>('POST', path, body)
