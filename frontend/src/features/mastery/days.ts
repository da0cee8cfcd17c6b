/** Days of the calendar as numbers, so that a slider can step through them. */
const DAY = 86_400_000

/** The number of a day such as "2028-02-29", one more for each day. */
export const numberOfDay = (day: string) => Math.round(Date.parse(`${day}T00:00Z`) / DAY)

/** The day of a number. */
export const dayOfNumber = (number: number) => new Date(number * DAY).toISOString().slice(0, 10)
