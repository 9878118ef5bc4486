import { describe, expect, it } from 'vitest'
import { HeardOf } from './happenings'
import { keptCopy, mayKeep, stillGood, worthKeeping } from './kept'
import { nextToSend, noteOf, stamped, type Noted } from './outbox'

const url = (path: string): URL => new URL(path, 'https://lift-crate.local')
const STEPS = '/api/jobs/opera/cards/steps'

describe('what can be noted without a net', () => {
  it('is what was done, in words, and nothing that is planned', () => {
    const body = JSON.stringify({ act: 'in', card: 'WIDE-03', unit: 'C6-1', slot: 'slot-1', place: '' })
    expect(noteOf('POST', url(STEPS), body)).toEqual({
      about: 'card WIDE-03',
      words: 'card WIDE-03, in, C6-1, slot-1',
    })
    expect(noteOf('DELETE', url(`${STEPS}/12`), null)?.words).toBe('card step 12, taken back')
    expect(noteOf('POST', url('/api/jobs/opera/parts/one/rigs/cam/balance/3/touched'), '{"thing":"hood"}')?.about).toBe(
      'balance cam 3',
    )
    expect(noteOf('POST', url('/api/jobs/opera/parts/one/rigs/cam/edits'), '{}')).toBeNull()
    expect(noteOf('POST', url('/api/jobs/opera/edits'), '{}')).toBeNull()
    expect(noteOf('GET', url(STEPS), null)).toBeNull()
  })

  it('carries the moment of the tap where the server would have said when', () => {
    const at = new Date('2027-03-20T19:20:00Z')
    expect(JSON.parse(stamped('{"act":"in","at":null}', STEPS, at) ?? '')).toEqual({
      act: 'in',
      at: '2027-03-20T19:20:00.000Z',
    })
    expect(stamped('{"at":"2027-03-20T18:00"}', STEPS, at)).toBe('{"at":"2027-03-20T18:00"}')
    const touched = stamped('{"thing":"hood"}', '/api/jobs/opera/parts/one/rigs/cam/balance/3/touched', at) ?? ''
    expect(JSON.parse(touched)).toEqual({ thing: 'hood', at: '2027-03-20T19:20:00.000Z' })
    expect(stamped('{"slot":"a"}', '/api/jobs/opera/swaps/made', at)).toBe('{"slot":"a"}')
  })
})

describe('what is sent next', () => {
  const row = (...all: [number, string, Noted['state'], string?][]): Noted[] =>
    all.map(([n, about, state, who = 'Op 1']) => ({ n, about, state, who, job: 'opera' }) as Noted)

  it('is the first that waits, and nothing about a thing that is to be asked about first', () => {
    expect(nextToSend(row([1, 'A', 'waiting'], [2, 'B', 'waiting']), 'Op 1')?.n).toBe(1)
    expect(nextToSend(row([1, 'A', 'clash'], [2, 'A', 'waiting'], [3, 'B', 'waiting']), 'Op 1')?.n).toBe(3)
    expect(nextToSend(row([1, 'A', 'clash'], [2, 'A', 'waiting']), 'Op 1')).toBeNull()
  })
  it('is never what somebody else noted on this device', () => {
    expect(nextToSend(row([1, 'A', 'waiting', 'Op 2'], [2, 'B', 'waiting']), 'Op 1')?.n).toBe(2)
    expect(nextToSend(row([1, 'A', 'waiting', 'Op 2'], [2, 'A', 'waiting']), 'Op 1')).toBeNull()
  })
})

describe('what was heard', () => {
  it('is heard once, whatever comes twice or late', () => {
    const heard = new HeardOf()
    heard.from(10)
    expect([10, 12, 11, 12, 9].map((id) => heard.note(id))).toEqual([false, true, true, false, false])
    expect(heard.last).toBe(12)
  })
})

describe('what a device keeps', () => {
  it('is what is read, with the time of it, and no stream or search', async () => {
    expect(worthKeeping(url('/api/jobs/opera/parts/one/rigs/cam'))).toBe(true)
    for (const path of ['/api/jobs/opera/live', '/api/jobs/opera/find', '/jobs'])
      expect(worthKeeping(url(path))).toBe(false)
    const copy = keptCopy(new Response('{"a":1}', { headers: { ETag: '"x"' } }))
    expect(Date.parse(copy.headers.get('X-Kept-At') ?? '')).toBeGreaterThan(0)
    expect(await copy.json()).toEqual({ a: 1 })
  })
  it('is nothing that a device said, and nothing that a network shows in the place of the server', () => {
    const answer = (headers: Record<string, string>, status = 200) => new Response('{}', { status, headers })
    expect(mayKeep(answer({ 'X-Lift-Crate': 'yes' }))).toBe(true)
    expect(mayKeep(answer({ 'X-Lift-Crate': 'yes', 'Cache-Control': 'no-store' }))).toBe(false)
    expect(mayKeep(answer({}))).toBe(false)
    expect(mayKeep(answer({ 'X-Lift-Crate': 'yes' }, 503))).toBe(false)
  })
  it('is shown for as long as the server said', () => {
    const kept = new Response('{}', { headers: { 'X-Keep-Hours': '2', 'X-Kept-At': '2027-03-20T19:00:00Z' } })
    expect(stillGood(kept, Date.parse('2027-03-20T20:59:00Z'))).toBe(true)
    expect(stillGood(kept, Date.parse('2027-03-20T21:00:00Z'))).toBe(false)
  })
})
