import { amount } from './format'

/** A figure as an instrument tells it, with its unit. */
export const withUnit = (value: number, unit: string) => `${amount(value)} ${unit}`.trim()
