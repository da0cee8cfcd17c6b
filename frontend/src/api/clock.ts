/** What time it is. Nothing else asks the browser: by its clock, a device that goes wrong would call work late. */

/** By how many milliseconds the server's clock is ahead of the device's. */
let ahead = 0

/** The time in milliseconds, by the server's clock as its last answer said it. */
export function now(): number {
  return deviceTime() + ahead
}

/** The time by the server's clock, as the server writes times. */
export function nowIso(): string {
  return new Date(now()).toISOString()
}

/** The device's own time: for how long ago something was done on it, with or without a server. */
export function deviceTime(): number {
  return Date.now()
}

/** The device's own time, as it is kept in the browser. */
export function deviceIso(): string {
  return new Date(deviceTime()).toISOString()
}

/** Take the time from an answer of the server, which says it in whole seconds. A device that goes right keeps its own. */
export function heard(answer: Response): void {
  const off = Date.parse(answer.headers.get('date') ?? '') + 500 - deviceTime()
  if (!Number.isNaN(off)) ahead = Math.abs(off) < 2000 ? 0 : off
}
