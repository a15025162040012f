/**
 * Two windows on one film, driven line by line from outside: nothing in here waits for a clock or a network.
 *
 * Each line on standard input is one thing that happens; after it all that follows from it is done, and one line says what
 * the windows want next (`wants`: an edit sent, the film read, the service asked for, a pause) and what they show.
 */
import { createInterface } from 'node:readline'
import type { EditAnswer, Edit, ProjectState } from '../src/api/client'
import { Refused } from '../src/api/refused'
import { FilmLine, type Order } from '../src/sync/line'
import type { Sort } from '../src/sync/local'

type Said =
  | { does: 'open'; window: string; state: ProjectState }
  | { does: 'edit'; window: string; edit: Edit; gesture?: string }
  | { does: 'undo' | 'redo'; window: string }
  | { does: 'hear'; window: string; revision: number; answer: EditAnswer | null }
  | { does: 'local'; window: string; sort: Sort; of: (string | number)[]; since: number }
  | { does: 'answer'; id: number; body: unknown }
  | { does: 'refuse'; id: number; status: number; body: { detail?: string } }
  | { does: 'fail'; id: number }

interface Want { id: number; window: string; kind: 'send' | 'read' | 'alive' | 'pause'; order?: Order; revision?: number }

const waiting = new Map<number, { done: (body: never) => void; fail: (error: Error) => void }>()
let wants: Want[] = []
let made = 0

function want<T>(window: string, kind: Want['kind'], more: Partial<Want> = {}): Promise<T> {
  const id = (made += 1)
  wants.push({ id, window, kind, ...more })
  return new Promise((done, fail) => { waiting.set(id, { done: done as (body: never) => void, fail }) })
}

interface Window { line: FilmLine; refused: { token: string; message: string; conflicts: unknown[] }[]; aside: string[] }
const windows = new Map<string, Window>()

function opened(name: string): Window {
  const own: Omit<Window, 'line'> = { refused: [], aside: [] }
  const line = new FilmLine({
    send: (order, revision) => want(name, 'send', { order: { ...order }, revision }),
    read: () => want(name, 'read'),
    alive: () => want(name, 'alive'),
    pause: () => want(name, 'pause'),
  }, {
    adopted: () => {}, merged: () => {}, saving: () => {}, unsent: () => {},
    refused: ({ token }, message, conflicts) => { own.refused.push({ token, message, conflicts }) },
    setAside: ({ token }) => { own.aside.push(token) },
  }, `window-${name}`)
  return { line, ...own }
}

function happen(said: Said): unknown {
  if (said.does === 'open') {
    windows.set(said.window, opened(said.window))
    windows.get(said.window)!.line.open(said.state)
    return null
  }
  if ('id' in said) {
    const { done, fail } = waiting.get(said.id)!
    waiting.delete(said.id)
    if (said.does === 'answer') done(said.body as never)
    else fail(said.does === 'refuse' ? new Refused(said.status, said.body.detail ?? '', said.body) : new Error('no answer'))
    return null
  }
  const { line } = windows.get(said.window)!
  if (said.does === 'hear') line.hear(said.revision, said.answer)
  else if (said.does === 'local') return line.locals.at(said.sort, said.of, said.since)
  else {
    const path = said.does === 'edit' ? 'edits' : said.does
    const order: Order = { path, token: `${line.window}-${(made += 1)}`, window: line.window, saw: line.revision, strikes: 0 }
    line.put(said.does === 'edit' ? { ...order, edit: said.edit, gesture: said.gesture } : order)
    return order.token
  }
  return null
}

for await (const text of createInterface({ input: process.stdin })) {
  const said = happen(JSON.parse(text))
  await new Promise((resume) => { setImmediate(resume) })
  const shown = Object.fromEntries([...windows].map(([name, { line, refused, aside }]) => [name, {
    revision: line.revision, stored: line.stored, shown: line.shown(), pending: line.pending.map(({ token }) => token), refused, aside,
  }]))
  process.stdout.write(`${JSON.stringify({ said, wants, windows: shown })}\n`)
  wants = []
}
