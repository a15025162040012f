/** Corner brackets: at each corner of a four-sided outline two short strokes along the edges that meet there. */
type Point = readonly [number, number] | number[]

/** One corner's strokes as a path, each `reach` long but no longer than a third of its edge. */
export function bracket(corners: readonly Point[], i: number, reach: number): string {
  const [corner, before, after] = [corners[i], corners[(i + 3) % 4], corners[(i + 1) % 4]]
  const along = (to: Point) => {
    const length = Math.hypot(to[0] - corner[0], to[1] - corner[1]) || 1
    const share = Math.min(reach, length / 3) / length
    return `${(corner[0] + (to[0] - corner[0]) * share).toFixed(2)} ${(corner[1] + (to[1] - corner[1]) * share).toFixed(2)}`
  }
  return `M${along(before)}L${corner[0].toFixed(2)} ${corner[1].toFixed(2)}L${along(after)}`
}

export const brackets = (corners: readonly Point[], reach: number): string => corners.map((_, i) => bracket(corners, i, reach)).join('')

/** A place on the line from a corner to the middle, `far` inside it; outside where that is below 0. */
export function within(corners: readonly Point[], i: number, far: number): [number, number] {
  const middle = [0, 1].map((axis) => corners.reduce((sum, corner) => sum + corner[axis], 0) / corners.length)
  const length = Math.hypot(middle[0] - corners[i][0], middle[1] - corners[i][1]) || 1
  const share = Math.min(0.5, far / length)
  return [corners[i][0] + (middle[0] - corners[i][0]) * share, corners[i][1] + (middle[1] - corners[i][1]) * share]
}
