/** One function per endpoint; the types of arguments and answers come from the API's own description. */
import { ask, client, Problem, problemOf } from './client'
import type {
  Adjust, Attach, BenchView, CandidatesView, CarryAs, Connect, Detach, Disconnect, HistoryView, Imported, JobsView, JobView, Move, PartView,
  RemediesView, Replace, SlideTo, Strip, Turn,
} from './schema.gen'

export type Operation = Attach | Move | Detach | Replace | SlideTo | Turn | Connect | Disconnect | Adjust | CarryAs | Strip

export interface Place {
  job: string
  part: string
  rig: string
}

const RIG = '/api/jobs/{job}/parts/{part}/rigs/{rig}'

export const listJobs = (): Promise<JobsView> => ask(client.GET('/api/jobs'))
export const readJob = (job: string): Promise<JobView> => ask(client.GET('/api/jobs/{job}', { params: { path: { job } } }))
export const readPart = (job: string, part: string): Promise<PartView> =>
  ask(client.GET('/api/jobs/{job}/parts/{part}', { params: { path: { job, part } } }))
export const readBench = (path: Place): Promise<BenchView> => ask(client.GET(RIG, { params: { path } }))
export const editBench = (path: Place, version: number, operations: Operation[]): Promise<BenchView> =>
  ask(client.POST(`${RIG}/edits`, { params: { path }, body: { version, operations } }))
export const previewBench = (path: Place, operations: Operation[]): Promise<BenchView> =>
  ask(client.POST(`${RIG}/preview`, { params: { path }, body: { operations } }))
export const undoBench = (path: Place, version: number): Promise<BenchView> =>
  ask(client.POST(`${RIG}/undo`, { params: { path }, body: { version } }))
export const redoBench = (path: Place, version: number): Promise<BenchView> =>
  ask(client.POST(`${RIG}/redo`, { params: { path }, body: { version } }))
export const readPort = (path: Place, unit: string, port: string, misfits: boolean): Promise<CandidatesView> =>
  ask(client.GET(`${RIG}/ports/{unit}/{port}`, { params: { path: { ...path, unit, port }, query: { misfits } } }))
export const readRemedies = (path: Place, finding: string): Promise<RemediesView> =>
  ask(client.GET(`${RIG}/remedies`, { params: { path, query: { finding } } }))
export const readHistory = (path: Place): Promise<HistoryView> => ask(client.GET(`${RIG}/history`, { params: { path } }))
export const exportAddress = (job: string): string => `/api/jobs/${encodeURIComponent(job)}/file`

/** Sends the file as it is, so that the server reads exactly what was picked. */
export async function importJob(file: Blob, replace: boolean): Promise<Imported> {
  let response: Response
  try {
    response = await fetch(`/api/import?replace=${String(replace)}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: file,
    })
  } catch {
    throw new Problem(0, 'No answer', 'The file did not reach the server. Nothing was changed.', 'network')
  }
  const body: unknown = await response.json().catch(() => null)
  if (!response.ok) throw problemOf(response.status, body)
  return body as Imported
}
