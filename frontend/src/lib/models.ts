/** The guided editor's hand on a model: boxes by their size, ports by the face they sit on. Judging it is the server's. */
import type { GearModel, Port } from '../api/schema.gen'

type Vec = [number, number, number]
export interface Face {
  name: string
  n: Vec
  u: Vec
  axis: 0 | 1 | 2
  high: boolean
}

export const FACES: readonly Face[] = [
  { name: 'up', n: [0, 0, 1], u: [1, 0, 0], axis: 2, high: true },
  { name: 'down', n: [0, 0, -1], u: [1, 0, 0], axis: 2, high: false },
  { name: 'forward', n: [1, 0, 0], u: [0, 0, 1], axis: 0, high: true },
  { name: 'back', n: [-1, 0, 0], u: [0, 0, 1], axis: 0, high: false },
  { name: 'left', n: [0, 1, 0], u: [0, 0, 1], axis: 1, high: true },
  { name: 'right', n: [0, -1, 0], u: [0, 0, 1], axis: 1, high: false },
]

export const newBox = (): NonNullable<GearModel['shapes']>[number] => ({
  block: [
    [-20, -20, 0],
    [20, 20, 40],
  ],
})

export function newModel(): GearModel {
  return {
    id: '',
    kind: 'arm',
    maker: '',
    name: '',
    mass_g: 100,
    mass_source: 'assumed',
    cg_source: 'assumed',
    shapes: [newBox()],
    ports: [],
  }
}

function corners(model: GearModel): [Vec, Vec] | null {
  const first = model.shapes?.[0]
  return first && 'block' in first ? (first.block as [Vec, Vec]) : null
}

/** Length, width and height of the first box; null when the model begins with something else. */
export function sizeOf(model: GearModel): Vec | null {
  const box = corners(model)
  return box ? [box[1][0] - box[0][0], box[1][1] - box[0][1], box[1][2] - box[0][2]] : null
}

/** The first box grown about its middle, upwards from its floor; ports keep their places. */
export function withSize(model: GearModel, axis: 0 | 1 | 2, size: number): GearModel {
  const box = corners(model)
  if (!box || !(size > 0)) return model
  const [low, high]: [Vec, Vec] = [[...box[0]], [...box[1]]]
  const middle = (low[axis] + high[axis]) / 2
  if (axis === 2) high[2] = low[2] + size
  else [low[axis], high[axis]] = [middle - size / 2, middle + size / 2]
  return {
    ...model,
    shapes: [
      { ...(model.shapes?.[0] ?? {}), block: [low, high] } as NonNullable<GearModel['shapes']>[number],
      ...(model.shapes ?? []).slice(1),
    ],
  }
}

export function faceOf(port: Port): string {
  return FACES.find((f) => f.n.every((v, i) => v === (port.n ?? [0, 0, 1])[i]))?.name ?? 'up'
}

/** The port on another face of the first box, in its middle. */
export function withFace(port: Port, name: string, model: GearModel): Port {
  const face = FACES.find((f) => f.name === name)
  const box = corners(model)
  if (!face) return port
  const at: Vec = [...(port.at ?? [0, 0, 0])] as Vec
  if (box) {
    for (const i of [0, 1, 2] as const) at[i] = (box[0][i] + box[1][i]) / 2
    at[face.axis] = box[face.high ? 1 : 0][face.axis]
  }
  return { ...port, n: face.n, u: face.u, at }
}

export function newPort(ports: readonly Port[], model: GearModel): Port {
  const id = `port-${String(ports.length + 1)}`
  const port: Port = { id, label: id, interface: 'thread-1/4-20', gender: ports.length ? 'female' : 'male' }
  return withFace(port, ports.length ? 'up' : 'down', model)
}
