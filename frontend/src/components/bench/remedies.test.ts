// @vitest-environment happy-dom
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import * as api from '../../api'
import type { FindingView, RemediesView, RemedyView } from '../../api/schema.gen'
import { Problem } from '../../api/client'
import { open } from '../../testing/bench'
import RemedyList from './RemedyList.vue'

vi.mock('../../api')
const server = vi.mocked(api)
const PLACE = { job: 'job', part: 'one', rig: 'cam' }
const finding = (key: string) => ({ key, cures: 'a longer arm', text: key, title: key }) as unknown as FindingView

function remedy(title: string, rank: number[], more: Partial<RemedyView> = {}): RemedyView {
  return {
    title,
    rank,
    clears: true,
    exchanges: rank[0] === 1,
    operations: [{ op: 'detach', unit: title }],
    effect: { mass_g: 0, cg_x_mm: 0, draw_w: 0, come: [], gone: [], levels: {} },
    ...more,
  } as unknown as RemedyView
}
const step = (remedies: RemedyView[], tried: number, of = 40, most = 3): RemediesView =>
  ({ remedies, tried, of, most }) as unknown as RemediesView

const shown = (wrapper: ReturnType<typeof mount>): string[] =>
  wrapper.findAll('.remedy .what').map((each) => each.text())

beforeEach(() => {
  vi.resetAllMocks()
})

describe('remedies of a search in steps', () => {
  it('are the best of all steps, in the order the server ranks them, each once', async () => {
    server.readRemedies
      .mockResolvedValueOnce(step([remedy('B', [0, 2]), remedy('X', [1, 0])], 20))
      .mockResolvedValueOnce(step([remedy('A', [0, 1]), remedy('B', [0, 2]), remedy('C', [0, 3])], 40))
    const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
    await flushPromises()
    expect(shown(wrapper)).toEqual(['A', 'B', 'C'])
    expect(server.readRemedies.mock.calls.map(([, key, from]) => [key, from])).toEqual([
      ['f1', 0],
      ['f1', 20],
    ])
    expect(wrapper.find('.exchanges').exists()).toBe(false)
  })

  it('that bring another Stop stand below a line that says so', async () => {
    server.readRemedies.mockResolvedValueOnce(step([remedy('A', [0, 1]), remedy('X', [1, 0]), remedy('Y', [1, 5])], 40))
    const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
    await flushPromises()
    expect(shown(wrapper)).toEqual(['A', 'X', 'Y'])
    expect(wrapper.findAll('.exchanges')).toHaveLength(1)
    const order = wrapper.findAll('.exchanges, .remedy').map((each) => each.classes()[0])
    expect(order).toEqual(['remedy', 'exchanges', 'remedy', 'remedy'])
  })

  it('can be ended while it runs, with what was found kept', async () => {
    const rest = open<RemediesView>()
    server.readRemedies.mockResolvedValueOnce(step([remedy('A', [0, 1])], 20)).mockReturnValueOnce(rest.coming)
    const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
    await flushPromises()
    expect(wrapper.get('.searching').text()).toContain('20 of 40 tried')
    await wrapper.get('.searching button').trigger('click')
    rest.come(step([remedy('B', [0, 0])], 40))
    await flushPromises()
    expect(shown(wrapper)).toEqual(['A'])
    expect(wrapper.find('.searching').exists()).toBe(false)
  })

  it('of a finding that was left do not come under the next one', async () => {
    const slow = open<RemediesView>()
    server.readRemedies.mockReturnValueOnce(slow.coming).mockResolvedValueOnce(step([remedy('N', [0, 0])], 40))
    const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
    await wrapper.setProps({ finding: finding('f2') })
    await flushPromises()
    slow.come(step([remedy('OLD', [0, 0])], 40))
    await flushPromises()
    expect(shown(wrapper)).toEqual(['N'])
  })
})

describe('when there is none', () => {
  it('the usual cures are told', async () => {
    server.readRemedies.mockResolvedValueOnce(step([], 40))
    const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
    await flushPromises()
    expect(wrapper.text()).toContain('Nothing on the shelf helps now. Usual cures: a longer arm')
  })

  it('because the server is away, that is told', async () => {
    server.readRemedies.mockRejectedValueOnce(new Problem(0, 'No answer', 'The server does not answer.', 'network'))
    const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
    await flushPromises()
    expect(wrapper.get('.trouble').text()).toBe('The server does not answer.')
  })
})

it('a remedy is looked at when it has the focus, left when it loses it, taken when it is pressed', async () => {
  server.readRemedies.mockResolvedValueOnce(step([remedy('A', [0, 1], { clears: false })], 40))
  const wrapper = mount(RemedyList, { props: { finding: finding('f1'), place: PLACE } })
  await flushPromises()
  const button = wrapper.get('.remedy')
  expect(button.text()).toContain('helps, does not clear it')
  await button.trigger('focus')
  await button.trigger('blur')
  await button.trigger('click')
  expect([wrapper.emitted('look'), wrapper.emitted('away')?.length, wrapper.emitted('take')]).toEqual([
    [[[{ op: 'detach', unit: 'A' }]]],
    1,
    [[[{ op: 'detach', unit: 'A' }]]],
  ])
})
