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

/** "20 Nov", in the school's time zone. */
export function day(iso: string, timeZone: string): string {
  return format({ day: 'numeric', month: 'short', timeZone }).format(new Date(iso))
}

/** "20 November", in the school's time zone; a plain day (YYYY-MM-DD) has none. */
export function longDay(iso: string, timeZone = 'UTC'): string {
  return format({ day: 'numeric', month: 'long', timeZone }).format(new Date(iso))
}

/** "Fri 20 Nov, 11:02", in the school's time zone. */
export function dayAndTime(iso: string, timeZone: string): string {
  return format({
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

/** "1 task", "3 tasks". */
export function several(count: number, what: string, plural = `${what}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? what : plural}`
}

/** A text without accents and capitals, to search by. */
export function plain(text: string): string {
  return text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()
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
