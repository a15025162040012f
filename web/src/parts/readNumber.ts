/** Numbers as an editor types them. */

const TERM = /([+-]?)(\d*\.?\d+)(?:\/(\d*\.?\d+))?(f|s)?/y

/**
 * A number, a fraction (`1/3`), a sum (`12+5`), or with a leading plus a change of `now`
 * (`+10`, `+-2`), by a share of it where it is no percentage itself (`+10 %`). With a frame rate, `0.5s` counts in
 * seconds. Null for anything else.
 */
export function readNumber(text: string, now: number, rate: number | null, unit = ''): number | null {
  const typed = text.trim().toLowerCase().replaceAll(' ', '').replace(/(px|%|°|×)$/, '')
  if (typed.startsWith('+')) {
    const by = readNumber(typed.slice(1), 0, rate)
    if (by === null) return null
    return text.trim().endsWith('%') && unit !== '%' ? now * (1 + by / 100) : now + by
  }
  if (!typed) return null
  let total = 0
  let at = 0
  while (at < typed.length) {
    TERM.lastIndex = at
    const term = TERM.exec(typed)
    if (!term || (at > 0 && !term[1]) || (term[4] && rate === null)) return null
    let amount = Number(term[2]) / (term[3] ? Number(term[3]) : 1)
    if (term[4] === 's') amount *= rate!
    total += term[1] === '-' ? -amount : amount
    at = TERM.lastIndex
  }
  return Number.isFinite(total) ? total : null
}
