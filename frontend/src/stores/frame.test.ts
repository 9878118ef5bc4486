import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import * as api from '../api'
import { Problem } from '../api/client'
import type { FrameView, JobView } from '../api/schema.gen'
import { open } from '../testing/bench'
import { useFrame } from './frame'
import { useJob } from './job'

vi.mock('../api')
const server = vi.mocked(api)
const view = (version: number, title = 'Boats', id = 'boats'): FrameView =>
  ({
    version,
    can_undo: null,
    can_redo: null,
    job: { id, title },
    units: {},
    bodies: [],
    chargers: [],
    powered: [],
    zones: [],
  }) as never
const RENAME: api.JobOperation = { op: 'change job', title: 'Night boats' }

beforeEach(() => {
  setActivePinia(createPinia())
  vi.resetAllMocks()
})

async function opened() {
  server.readFrame.mockResolvedValueOnce(view(1))
  const frame = useFrame()
  await frame.open('boats')
  return frame
}

describe('the job that is edited', () => {
  it('is sent back with the version that was seen, one edit after the other', async () => {
    const frame = await opened()
    const first = open<FrameView>()
    server.editJob.mockReturnValueOnce(first.coming)
    server.editJob.mockResolvedValueOnce(view(3))
    const both = [frame.edit(RENAME), frame.edit({ op: 'change job', zone: 'UTC' })]
    await vi.waitFor(() => {
      expect(server.editJob).toHaveBeenCalledTimes(1)
    })
    first.come(view(2))
    expect(await Promise.all(both)).toEqual([true, true])
    expect(server.editJob.mock.calls.map(([, version]) => version)).toEqual([1, 2])
    expect(frame.view?.version).toBe(3)
  })

  it('can be edited while the lists to choose from are still coming', async () => {
    const choices = open<never>()
    server.readFrame.mockResolvedValueOnce(view(1))
    server.readChoices.mockReturnValueOnce(choices.coming)
    const frame = useFrame()
    const opening = frame.open('boats')
    await vi.waitFor(() => {
      expect(frame.view).not.toBeNull()
    })
    server.editJob.mockResolvedValueOnce(view(2))
    expect(await frame.edit(RENAME)).toBe(true)
    choices.come({} as never)
    await opening
    expect(frame.view?.version).toBe(2)
  })

  it('takes an edit that is made before it has come', async () => {
    const coming = open<FrameView>()
    server.readFrame.mockReturnValueOnce(coming.coming)
    server.readChoices.mockResolvedValueOnce({} as never)
    const frame = useFrame()
    void frame.open('boats')
    server.editJob.mockResolvedValueOnce(view(2))
    const edited = frame.edit(RENAME)
    expect(server.editJob).not.toHaveBeenCalled()
    coming.come(view(1))
    expect(await edited).toBe(true)
    expect(server.editJob).toHaveBeenCalledWith('boats', 1, [RENAME])
    expect(frame.view?.version).toBe(2)
  })

  it('is not put back by a read that was begun before an edit was done', async () => {
    const frame = await opened()
    const edit = open<FrameView>()
    const read = open<FrameView>()
    server.editJob.mockReturnValueOnce(edit.coming)
    const edited = frame.edit(RENAME)
    await vi.waitFor(() => {
      expect(server.editJob).toHaveBeenCalledTimes(1)
    })
    server.readFrame.mockReturnValueOnce(read.coming)
    server.readChoices.mockResolvedValueOnce({} as never)
    const reading = frame.open('boats')
    edit.come(view(2))
    await edited
    read.come(view(1))
    await reading
    server.editJob.mockResolvedValueOnce(view(3))
    expect(await frame.edit(RENAME)).toBe(true)
    expect(server.editJob.mock.calls.map(([, version]) => version)).toEqual([1, 2])
  })

  it('stays as it is when an edit is refused, and the next one is done', async () => {
    const frame = await opened()
    server.editJob.mockRejectedValueOnce(new Problem(422, 'No', 'A job wants a title.', 'job.refused'))
    expect(await frame.edit({ op: 'change job', title: ' ' })).toBe(false)
    expect([frame.view?.version, frame.problem?.message, frame.busy]).toEqual([1, 'A job wants a title.', false])
    server.undoJob.mockResolvedValueOnce(view(2))
    expect(await frame.undo()).toBe(true)
    expect(frame.problem).toBeNull()
  })

  it('is not shown over another that was opened meanwhile', async () => {
    const frame = await opened()
    const late = open<FrameView>()
    server.editJob.mockReturnValueOnce(late.coming)
    const edited = frame.edit(RENAME)
    server.readFrame.mockResolvedValueOnce(view(7, 'Opera', 'opera'))
    await frame.open('opera')
    late.come(view(2))
    await edited
    expect(frame.view?.job.title).toBe('Opera')
  })

  it('takes an edit that waits to the job it was made on, though another is looked at by then', async () => {
    const frame = await opened()
    const first = open<FrameView>()
    server.editJob.mockReturnValueOnce(first.coming).mockResolvedValueOnce(view(3))
    const both = [frame.edit(RENAME), frame.edit({ op: 'change job', zone: 'UTC' })]
    server.readFrame.mockResolvedValueOnce(view(7, 'Opera', 'opera'))
    await frame.open('opera')
    first.come(view(2))
    await Promise.all(both)
    expect(server.editJob.mock.calls.map(([job, version]) => [job, version])).toEqual([
      ['boats', 1],
      ['boats', 2],
    ])
    expect(frame.view?.job.id).toBe('opera')
  })

  it('brings the ribbon and the strips along', async () => {
    const frame = await opened()
    const job = useJob()
    server.readJob.mockResolvedValue({
      id: 'boats',
      title: 'Boats',
      parts: [{ id: 'one' }],
      rigs: [],
    } as unknown as JobView)
    await job.open('boats')
    job.partId = 'one'
    server.editJob.mockResolvedValueOnce(view(2))
    await frame.edit(RENAME)
    expect(server.readJob).toHaveBeenCalledTimes(2)
    expect(server.readPart).toHaveBeenCalledWith('boats', 'one')
    job.partId = 'gone'
    server.redoJob.mockResolvedValueOnce(view(3))
    await frame.redo()
    expect(server.readPart).toHaveBeenCalledTimes(1)
  })
})
