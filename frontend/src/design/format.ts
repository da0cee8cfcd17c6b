/** Writing times and numbers. Values come from the server as decimal texts, already rounded. */
import { now } from '@/api/clock'

const formats = new Map<string, Intl.DateTimeFormat>()

function format(options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = JSON.stringify(options)
  let found = formats.get(key)
  if (!found) {
    found = new Intl.DateTimeFormat('en-GB', options)
    formats.set(key, found)
  }
  return found
}

/** The year of another year than this one: without it a day would be read as of this year. */
function otherYear(iso: string, timeZone: string): Intl.DateTimeFormatOptions {
  const year = format({ year: 'numeric', timeZone })
  return year.format(new Date(iso)) === year.format(now()) ? {} : { year: 'numeric' }
}

/** "20 Nov", or "20 Nov 2027", in the school's time zone. */
export function day(iso: string, timeZone: string): string {
  const year = otherYear(iso, timeZone)
  return format({ day: 'numeric', month: 'short', ...year, timeZone }).format(new Date(iso))
}

/** "20 November", or with the year, in the school's time zone; a plain day (YYYY-MM-DD) has none. */
export function longDay(iso: string, timeZone = 'UTC'): string {
  const year = otherYear(iso, timeZone)
  return format({ day: 'numeric', month: 'long', ...year, timeZone }).format(new Date(iso))
}

/** "Fri 20 Nov, 11:02", or with the year, in the school's time zone. */
export function dayAndTime(iso: string, timeZone: string): string {
  return format({
    ...otherYear(iso, timeZone),
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZone,
  }).format(new Date(iso))
}

/** "11:31:08", in the school's time zone. */
export function clock(iso: string, timeZone: string): string {
  return format({ hour: '2-digit', minute: '2-digit', second: '2-digit', timeZone }).format(
    new Date(iso),
  )
}

/** "2026-11-20T11:02" by the school's clock, as an input of type datetime-local wants it. */
export function localInput(iso: string | null, timeZone: string): string {
  if (!iso) return ''
  const parts = new Intl.DateTimeFormat('sv-SE', {
    dateStyle: 'short',
    timeStyle: 'short',
    timeZone,
  }).format(new Date(iso))
  return parts.replace(' ', 'T')
}

/** "Friday 20 November 2026", or with the time, of what an input of a day holds; none of what is half typed. */
export function dayInWords(input: string): string {
  const time = new Date(input.includes('T') ? `${input}Z` : `${input}T00:00Z`)
  if (!input || Number.isNaN(time.getTime())) return ''
  const clock = { hour: '2-digit', minute: '2-digit' } as const
  return format({
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    ...(input.includes('T') ? clock : {}),
    timeZone: 'UTC',
  }).format(time)
}

/** Today at the school as YYYY-MM-DD. */
export function today(timeZone: string): string {
  return new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeZone }).format(now())
}

/** "3 hours", from minutes. */
export function duration(minutes: number): string {
  if (minutes < 60) return several(minutes, 'minute')
  if (minutes < 60 * 24) return several(Math.floor(minutes / 60), 'hour')
  return several(Math.floor(minutes / (60 * 24)), 'day')
}

/** A level, or half-way up from it to the next. */
export function levelWords(name: string | undefined, halfWay: boolean | undefined): string {
  return `${name ?? ''}${halfWay ? ', half-way up' : ''}`
}

/** A level, or half-way up from it, where there is little room. */
export function levelSign(name: string | undefined, halfWay: boolean | undefined): string {
  return `${name ?? ''}${halfWay ? ' ½' : ''}`
}

/** "1 task", "3 tasks". */
export function several(count: number, what: string, plural = `${what}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? what : plural}`
}

/** A number as it is typed, with a comma or a point; NaN where it is none. */
export function typedNumber(text: string): number {
  return text.trim() ? Number(text.trim().replace(',', '.')) : NaN
}

/** A file's size, as people say it. */
export function fileSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`
  const millions = bytes / 1_000_000
  return `${millions < 10 ? millions.toFixed(1) : Math.round(millions)} MB`
}

/** Seconds as minutes and seconds: 1:05. */
export function clockOf(seconds: number): string {
  const whole = Math.round(seconds)
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}
