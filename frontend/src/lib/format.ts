/** Figures as they are written on the screen: fixed digits, true minus, thin spaces in thousands. */

const MINUS = '\u2212'
const THIN = '\u202f'

export function fixed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits)
  const [whole = '0', part] = text.split('.')
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, THIN)
  const sign = value < 0 && Number(text) !== 0 ? MINUS : ''
  return sign + grouped + (part === undefined ? '' : `.${part}`)
}

export function signed(value: number, digits: number): string {
  const text = fixed(value, digits)
  return Number(value.toFixed(digits)) > 0 ? `+${text}` : text
}

export const grams = (value: number): string => fixed(value, 0)

export function hours(value: number | null): string {
  return value === null ? '–' : fixed(value, 2)
}

export function clock(moment: string): string {
  return moment.slice(11, 16)
}

/** A moment written like another one, in its time zone. */
export function inZoneOf(at: Date, like: string): string {
  const zone = like.slice(19).match(/([+-])(\d\d):(\d\d)/)
  const minutes = zone ? (zone[1] === '-' ? -1 : 1) * (Number(zone[2]) * 60 + Number(zone[3])) : 0
  return new Date(at.getTime() + minutes * 60_000).toISOString().slice(0, 19) + (zone ? zone[0] : 'Z')
}

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sept', 'Oct', 'Nov', 'Dec']

/** The day of a time as it stands in the answer, which is in the job's own time zone. */
export function weekday(moment: string): string {
  // By hand: the browser's own way loads every language first, some 40 ms of the first screen.
  const day = new Date(`${moment.slice(0, 10)}T12:00:00Z`)
  return `${DAYS[day.getUTCDay()] ?? ''} ${String(day.getUTCDate())} ${MONTHS[day.getUTCMonth()] ?? ''}`
}

/** Minutes past midnight on the clock of the job. */
export function minuteOfDay(moment: string): number {
  return Number(moment.slice(11, 13)) * 60 + Number(moment.slice(14, 16))
}

/** Hours and minutes of this machine's own clock. */
export const clockOf = (at: Date): string => `${pad(at.getHours())}:${pad(at.getMinutes())}`
const pad = (n: number): string => String(n).padStart(2, '0')

export const counted = (count: number, thing: string): string => `${String(count)} ${thing}${count === 1 ? '' : 's'}`
