/** Words that are typed here while others type into the same text. */

interface Splice { start: number; end: number; by: string }

function splice(old: string, now: string): Splice {
  const most = Math.min(old.length, now.length)
  let head = 0
  while (head < most && old[head] === now[head]) head += 1
  let tail = 0
  while (tail < most - head && old[old.length - 1 - tail] === now[now.length - 1 - tail]) tail += 1
  return { start: head, end: old.length - tail, by: now.slice(head, now.length - tail) }
}

/** What both made of `base`; null where they changed the same place. */
export function mergedWords(base: string, mine: string, theirs: string): string | null {
  if (mine === theirs || theirs === base) return mine
  if (mine === base) return theirs
  const [first, second] = [splice(base, mine), splice(base, theirs)].sort((a, b) => a.start - b.start || a.end - b.end)
  if (first.end > second.start || first.start === second.start) return null
  return base.slice(0, first.start) + first.by + base.slice(first.end, second.start) + second.by + base.slice(second.end)
}

/** Where a caret at a place of `old` stands in `now`. */
export function caretIn(old: string, now: string, place: number): number {
  const { start, end, by } = splice(old, now)
  return place <= start ? place : place >= end ? place + by.length - (end - start) : start + by.length
}
