import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import * as api from '../api'
import { Problem } from '../api/client'
import { benchView, open, row } from '../testing/bench'
import { useBench } from './bench'
import { useJob } from './job'

vi.mock('../api')
const server = vi.mocked(api)
const HERE = { job: 'job', part: 'one', rig: 'cam' }
const OFF: api.Operation = { op: 'detach', unit: 'ARM' }
const away = new Problem(0, 'No answer', 'The server does not answer.', 'network')
const stale = (now: number) =>
  new Problem(409, 'Changed meanwhile', 'Ada slid ARM.', 'edit.stale', [], {
    current: benchView(now, [row('BODY'), row('NEW')]),
    since: ['Ada slid ARM.'],
    mine: 'Take off ARM',
    onTop: null,
    whyNot: '',
  })

async function opened(version = 1) {
  server.readBench.mockResolvedValue(benchView(version))
  const bench = useBench()
  await bench.open(HERE)
  return bench
}

beforeEach(() => {
  setActivePinia(createPinia())
  vi.resetAllMocks()
})

describe('the rig on the Bench', () => {
  it('is shown with its body chosen', async () => {
    const bench = await opened()
    expect([bench.view?.version, bench.selected, bench.problem]).toEqual([1, 'BODY', null])
  })

  it('is the one asked for last, though an earlier one comes later', async () => {
    const slow = open<ReturnType<typeof benchView>>()
    const bench = useBench()
    server.readBench.mockReturnValueOnce(slow.coming)
    const first = bench.open(HERE)
    server.readBench.mockResolvedValueOnce(benchView(7))
    await bench.open({ ...HERE, part: 'two' })
    slow.come(benchView(3))
    await first
    expect(bench.view?.version).toBe(7)
  })

  it('stays in sight when the server does not answer, and is taken away when there is no such rig', async () => {
    const bench = await opened()
    server.readBench.mockRejectedValueOnce(away)
    await bench.open(HERE)
    expect([bench.view?.version, bench.problem?.code]).toEqual([1, 'network'])
    server.readBench.mockRejectedValueOnce(new Problem(404, 'Not there', 'No such rig.', 'not_in_job'))
    await bench.open({ ...HERE, rig: 'gone' })
    expect(bench.view).toBeNull()
  })
})

describe('an edit', () => {
  it('is sent with the version seen, and what comes back is shown with what was before', async () => {
    const bench = await opened()
    server.editBench.mockResolvedValueOnce(benchView(2, [row('BODY'), row('ARM'), row('LAMP')]))
    expect(await bench.edit({ op: 'strip' })).toBe(true)
    expect(server.editBench).toHaveBeenCalledWith(HERE, 1, [{ op: 'strip' }])
    expect([bench.view?.version, bench.before?.draw_w, bench.selected]).toEqual([2, 41, 'LAMP'])
  })

  it('waits for the one before it and builds on it: two quick slides add up', async () => {
    const bench = await opened()
    const first = open<ReturnType<typeof benchView>>()
    server.editBench.mockReturnValueOnce(first.coming)
    server.editBench.mockResolvedValueOnce(benchView(3, [row('BODY'), row('ARM', 2)]))
    const [one, two] = [bench.slideBy('ARM', 1), bench.slideBy('ARM', 1)]
    await vi.waitFor(() => {
      expect(server.editBench).toHaveBeenCalledTimes(1)
    })
    first.come(benchView(2, [row('BODY'), row('ARM', 1)]))
    expect(await Promise.all([one, two])).toEqual([true, true])
    expect(server.editBench.mock.calls.map(([, version, operations]) => [version, operations[0]])).toEqual([
      [1, { op: 'slide', unit: 'ARM', to_mm: 1 }],
      [2, { op: 'slide', unit: 'ARM', to_mm: 2 }],
    ])
  })

  it('waits for a rig that is still on its way', async () => {
    const coming = open<ReturnType<typeof benchView>>()
    server.readBench.mockReturnValueOnce(coming.coming)
    server.undoBench.mockResolvedValueOnce(benchView(5))
    const bench = useBench()
    void bench.open(HERE)
    const undone = bench.undo()
    coming.come(benchView(4))
    expect(await undone).toBe(true)
    expect(server.undoBench).toHaveBeenCalledWith(HERE, 4, undefined)
  })

  it('that is refused leaves the rig as it is and does not hold up the next', async () => {
    const bench = await opened()
    server.editBench.mockRejectedValueOnce(new Problem(422, 'Cannot be', 'ARM carries CLAMP.', 'rig.bad'))
    server.editBench.mockResolvedValueOnce(benchView(2))
    const [refused, next] = await Promise.all([bench.edit(OFF), bench.edit({ op: 'strip' })])
    expect([refused, next, bench.view?.version, bench.problem]).toEqual([false, true, 2, null])
  })

  it('that cannot be carried out for what it says is not kept to be tried again', async () => {
    const bench = await opened()
    server.editBench.mockRejectedValueOnce(new Problem(422, 'Cannot be', 'ARM carries CLAMP.', 'rig.bad'))
    await bench.edit(OFF)
    expect([bench.problem?.message, bench.waiting, bench.busy]).toEqual(['ARM carries CLAMP.', null, false])
    bench.dismiss()
    expect(bench.problem).toBeNull()
  })

  it('that found no server is kept, and is done once it answers', async () => {
    const bench = await opened()
    server.editBench.mockRejectedValueOnce(away)
    await bench.edit(OFF)
    expect(bench.waiting).not.toBeNull()
    server.editBench.mockResolvedValueOnce(benchView(2))
    await bench.tryAgain()
    expect([bench.view?.version, bench.waiting, bench.problem]).toEqual([2, null, null])
  })

  it('that answers for a rig nobody looks at any more changes nothing on the screen', async () => {
    const bench = await opened()
    const late = open<ReturnType<typeof benchView>>()
    server.editBench.mockReturnValueOnce(late.coming)
    const edited = bench.edit(OFF)
    await vi.waitFor(() => {
      expect(server.editBench).toHaveBeenCalled()
    })
    server.readBench.mockResolvedValueOnce(benchView(9))
    await bench.open({ ...HERE, rig: 'other' })
    late.come(benchView(2))
    expect(await edited).toBe(true)
    expect(bench.view?.version).toBe(9)
  })

  it('brings the strips of its part along, not those of another', async () => {
    const bench = await opened()
    const job = useJob()
    job.partId = 'one'
    server.editBench.mockResolvedValueOnce({ ...benchView(2), day: { part: 'two', rigs: [] } as never })
    await bench.edit(OFF)
    expect(job.strips).toBeNull()
    server.editBench.mockResolvedValueOnce({ ...benchView(3), day: { part: 'one', rigs: [] } as never })
    await bench.edit(OFF)
    expect(job.strips?.part).toBe('one')
  })
})

describe('an edit made on an older state', () => {
  it('is kept beside what stands now until one chooses', async () => {
    const bench = await opened()
    server.editBench.mockRejectedValueOnce(stale(5))
    expect(await bench.edit(OFF)).toBe(false)
    expect([bench.view?.version, bench.problem?.code, bench.waiting?.kind]).toEqual([1, 'edit.stale', 'edit'])
  })

  it('is given up for theirs', async () => {
    const bench = await opened()
    bench.selected = 'ARM'
    server.editBench.mockRejectedValueOnce(stale(5))
    await bench.edit(OFF)
    bench.takeTheirs()
    expect([bench.view?.version, bench.selected, bench.problem, bench.waiting]).toEqual([5, 'BODY', null, null])
    expect(server.readPart).toHaveBeenCalledWith('job', 'one')
  })

  it('is done again on top of theirs, with their version', async () => {
    const bench = await opened()
    server.editBench.mockRejectedValueOnce(stale(5))
    await bench.edit(OFF)
    server.editBench.mockResolvedValueOnce(benchView(6))
    await bench.tryAgain()
    expect(server.editBench).toHaveBeenLastCalledWith(HERE, 5, [OFF])
    expect([bench.view?.version, bench.problem]).toEqual([6, null])
  })
})

describe('trying out', () => {
  it('shows the rig as it would be and puts the saved one back', async () => {
    const bench = await opened()
    server.previewBench.mockResolvedValueOnce({ ...benchView(1, [row('BODY')]), saved: false })
    await bench.tryOut([OFF])
    expect([bench.view?.saved, bench.saved?.rows.length]).toEqual([false, 2])
    bench.tryNothing()
    expect([bench.view?.saved, bench.view?.rows.length]).toEqual([true, 2])
  })

  it('drops a preview that comes after the edit', async () => {
    const bench = await opened()
    const late = open<ReturnType<typeof benchView>>()
    server.previewBench.mockReturnValueOnce(late.coming)
    const tried = bench.tryOut([OFF])
    server.editBench.mockResolvedValueOnce(benchView(2))
    await bench.edit(OFF)
    late.come({ ...benchView(1, [row('BODY')]), saved: false })
    await tried
    expect([bench.view?.version, bench.view?.saved]).toEqual([2, true])
  })

  it('shows the saved rig again when what is tried cannot be', async () => {
    const bench = await opened()
    server.previewBench.mockResolvedValueOnce({ ...benchView(1, [row('BODY')]), saved: false })
    await bench.tryOut([OFF])
    server.previewBench.mockRejectedValueOnce(new Problem(422, 'Cannot be', 'No.', 'rig.bad'))
    await bench.tryOut([{ op: 'strip' }])
    expect(bench.view?.saved).toBe(true)
  })
})
