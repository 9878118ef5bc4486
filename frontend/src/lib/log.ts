import type { EntryRequest, LogView } from '../api/schema.gen'

export type LogLine = LogView['lines'][number]
export type EntryKind = EntryRequest['kind']

/** What is tapped, in the order in which it happens most at night. */
export const TAPS: readonly { kind: EntryKind; label: string; key: string }[] = [
  { kind: 'fault', label: 'Fault', key: 'f' },
  { kind: 'near miss', label: 'Near miss', key: 'm' },
  { kind: 'reading', label: 'Reading', key: 'r' },
  { kind: 'minutes', label: 'Minutes', key: 't' },
  { kind: 'promise', label: 'Promise', key: 'p' },
  { kind: 'consent', label: 'Consent', key: 'a' },
  { kind: 'version', label: 'Keep build', key: 'b' },
  { kind: 'note', label: 'Note', key: 'n' },
]

/** A time as its field takes it, at the clock of the job. */
export const fieldTime = (moment: string): string => moment.slice(0, 16)
/** The other way round: with the offset that the job's times have then. */
export const momentOf = (field: string, like: string): string => `${field}:00${like.slice(19)}`

/** Whether now is on the day that is shown, with six hours before and after it. */
export function isNow(view: Pick<LogView, 'starts' | 'ends'>, now: Date): boolean {
  const room = 6 * 3_600_000
  return now.getTime() > Date.parse(view.starts) - room && now.getTime() < Date.parse(view.ends) + room
}

/** A word for an entry that nobody else makes, also without a server. */
export const entryId = (): string => crypto.randomUUID()

/** A photo made small enough to be sent over a weak line, in base 64. */
export async function smallPhoto(file: Blob, edge = 1400): Promise<string> {
  const picture = await createImageBitmap(file)
  const scale = Math.min(1, edge / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(picture.width * scale)
  canvas.height = Math.round(picture.height * scale)
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
  return canvas.toDataURL('image/jpeg', 0.8).split(',')[1] ?? ''
}

/** A line that was noted here and not sent yet, without what it says. */
export const NOT_SENT = {
  source: 'log',
  rig: '',
  unit: '',
  by: 'not sent yet',
  noted_at: null,
  said: [],
  settled: '',
  photo: '',
  open: false,
  slot: '',
  pack_in: '',
  pack_out: '',
  carried: false,
  taken_back_by: null,
  entry: null,
} satisfies Omit<LogLine, 'id' | 'kind' | 'at' | 'text'>
