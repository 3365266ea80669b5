/** Curve and strips share one time axis: the same room on both sides, the same hours across. */
export const LEFT = 190
export const RIGHT = 22

export const share = (hour: number, shown: number) => `${(100 * hour) / shown}%`
