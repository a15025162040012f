/** Frame sizes and rates on offer, and how they are written. */

export interface Rate {
  num: number
  den: number
  non_drop: boolean
}

export const SIZES = ['1280×720', '1920×1080', '3840×2160', '720×1280', '1080×1920', '1080×1080']

export const RATES: Record<string, Rate> = Object.fromEntries(([
  ['23.976', 24000, 1001, false], ['24', 24, 1, false], ['25', 25, 1, false], ['29.97 drop-frame', 30000, 1001, false], ['29.97 non-drop', 30000, 1001, true],
  ['30', 30, 1, false], ['50', 50, 1, false], ['59.94 drop-frame', 60000, 1001, false], ['59.94 non-drop', 60000, 1001, true], ['60', 60, 1, false],
] as const).map(([name, num, den, non_drop]) => [name, { num, den, non_drop }]))

export function sizeOf(written: string): { width: number; height: number } | null {
  const found = /^\s*(\d{2,4})\s*[x×]\s*(\d{2,4})\s*$/.exec(written)
  return found && { width: Math.floor(Number(found[1]) / 2) * 2, height: Math.floor(Number(found[2]) / 2) * 2 }
}

export function rateName(rate: Rate): string {
  const known = Object.entries(RATES).find(([, each]) => each.num * rate.den === rate.num * each.den && each.non_drop === rate.non_drop)
  return known?.[0] ?? Number((rate.num / rate.den).toFixed(3)).toString()
}
