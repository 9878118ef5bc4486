import {
  BoxGeometry,
  BufferGeometry,
  CanvasTexture,
  CircleGeometry,
  CylinderGeometry,
  DoubleSide,
  EdgesGeometry,
  Group,
  Line,
  LineBasicMaterial,
  LineDashedMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshStandardMaterial,
  QuadraticBezierCurve3,
  Quaternion,
  SphereGeometry,
  Sprite,
  SpriteMaterial,
  TubeGeometry,
  Vector3,
  type Object3D,
} from 'three'
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js'
import type { Space, SpaceCable, SpaceHinge, SpacePiece, SpacePort, SpaceShape } from '../api/schema.gen'

export type Axis = 'tilt' | 'roll' | 'pan'
export type Angles = Record<Axis, number>
export type Colours = Record<
  'body' | 'metal' | 'glass' | 'screen' | 'soft' | 'accent' | 'line' | 'mark' | 'stop' | 'watch' | 'cable',
  string
>
type Point = readonly [number, number, number]

export const LEVEL: Angles = { tilt: 0, roll: 0, pan: 0 }
const AXES: readonly Axis[] = ['pan', 'roll', 'tilt']
const UP = new Vector3(0, 1, 0)
/** mm between two things whose ports meet, when the rig is drawn all apart. */
const APART_MM = 70
const SURFACE: Record<SpaceShape['look'], { metalness: number; roughness: number }> = {
  body: { metalness: 0.15, roughness: 0.62 },
  metal: { metalness: 0.45, roughness: 0.34 },
  glass: { metalness: 0.1, roughness: 0.06 },
  screen: { metalness: 0.05, roughness: 0.12 },
  soft: { metalness: 0, roughness: 0.95 },
  accent: { metalness: 0.4, roughness: 0.4 },
}

const vector = (p: Point): Vector3 => new Vector3(p[0], p[1], p[2])

/** A turn about a line through a point, right hand, in degrees. */
export function turnAbout(through: Point, along: Point, degrees: number): Matrix4 {
  const turn = new Matrix4().makeRotationAxis(vector(along).normalize(), (degrees * Math.PI) / 180)
  const [x, y, z] = through
  return new Matrix4()
    .makeTranslation(x, y, z)
    .multiply(turn)
    .multiply(new Matrix4().makeTranslation(-x, -y, -z))
}

/** The turns of all axes that move a thing, the outermost first. */
export function turned(space: Space, by: SpacePiece['turns_with'], angles: Angles): Matrix4 {
  const found = new Matrix4()
  if (by === 'fixed') return found
  for (const axis of AXES.slice(0, AXES.indexOf(by) + 1)) {
    const at = space.axes.find((a) => a.axis === axis)
    if (at) found.multiply(turnAbout(at.through_mm as Point, at.along as Point, angles[axis]))
  }
  return found
}

/** A unit and everything that hangs on it. */
export function subtree(pieces: readonly SpacePiece[], unit: string): Set<string> {
  const found = new Set([unit])
  for (let grew = true; grew;) {
    grew = false
    for (const piece of pieces)
      if (piece.parent && found.has(piece.parent) && !found.has(piece.unit)) {
        found.add(piece.unit)
        grew = true
      }
  }
  return found
}

/** What meets first when a gimbal is turned so far, if anything. */
export function hitAt(space: Space, angles: Angles): { axis: Axis; pair: readonly string[]; deg: number } | null {
  for (const at of space.axes) {
    const deg = angles[at.axis]
    if (at.low_hits && deg < at.low_deg) return { axis: at.axis, pair: at.low_hits, deg: at.low_deg }
    if (at.high_hits && deg > at.high_deg) return { axis: at.axis, pair: at.high_hits, deg: at.high_deg }
  }
  return null
}

function rotationOf([x, y, z]: readonly [Point, Point, Point]): Matrix4 {
  return new Matrix4().set(...([...x, 0, ...y, 0, ...z, 0, 0, 0, 0, 1] as Parameters<Matrix4['set']>))
}

function geometryOf(shape: SpaceShape): { solid: BufferGeometry; edges: BufferGeometry; place: Matrix4 } {
  const place = new Matrix4()
  if (shape.block) {
    const [low, high] = shape.block as unknown as [Point, Point]
    const size = [high[0] - low[0], high[1] - low[1], high[2] - low[2]] as const
    const least = Math.min(...size)
    if (shape.turn) place.copy(rotationOf(shape.turn as unknown as readonly [Point, Point, Point]))
    place.setPosition((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2)
    return {
      solid: new RoundedBoxGeometry(size[0], size[1], size[2], 2, Math.min(4, least * 0.18)),
      edges: new EdgesGeometry(new BoxGeometry(size[0], size[1], size[2])),
      place,
    }
  }
  const [a, b] = (shape.barrel ?? [
    [0, 0, 0],
    [1, 0, 0],
  ]) as unknown as [Point, Point]
  const [from, to] = [vector(a), vector(b)]
  const along = to.clone().sub(from)
  const made = new CylinderGeometry(shape.end_radius_mm, shape.radius_mm, Math.max(along.length(), 0.1), 40)
  place.compose(
    from.clone().add(to).multiplyScalar(0.5),
    new Quaternion().setFromUnitVectors(UP, along.lengthSq() ? along.normalize() : UP),
    new Vector3(1, 1, 1),
  )
  return { solid: made, edges: new EdgesGeometry(made, 40), place }
}

/** What stands elsewhere while it is dragged: units, how, and of the arm that bends what lies beyond its hinge. */
export interface Moved {
  units: Set<string>
  by: Matrix4
  arm?: { unit: string; hinge: number }
}

/** An arm bent to some degrees, by how it stands bent now. */
export function bendShown(hinge: SpaceHinge, to: number): Moved {
  return {
    units: new Set(hinge.moves),
    by: turnAbout(hinge.through_mm as unknown as Point, hinge.along as unknown as Point, to - hinge.deg),
    arm: { unit: hinge.unit, hinge: hinge.hinge },
  }
}

/** Degrees at which a point lies about an axis; only differences of it mean anything. */
export function bendAt(through: Vector3, along: Vector3, at: Vector3): number {
  const nought = new Vector3(1, 0, 0).cross(along)
  if (nought.lengthSq() < 0.01) nought.set(0, 1, 0).cross(along)
  const off = at.clone().sub(through)
  return (Math.atan2(off.dot(along.clone().cross(nought)), off.dot(nought)) * 180) / Math.PI
}

export interface Built {
  root: Group
  /** Where a piece is kept by the axis that turns it. */
  pick: Object3D[]
  pose: (angles: Angles, apart: number, upTo: number, slid: Moved | null) => void
  mark: (selected: string, flagged: Readonly<Record<string, string>>, hits: readonly string[]) => void
  showPorts: (of: string | 'all') => void
  free: () => void
}

/** The scene of a rig: one group a piece, cables and ports with what they hang on, axes and the centre of gravity. */
export function build(space: Space, colours: Colours): Built {
  const root = new Group()
  const materials = Object.fromEntries(
    (Object.keys(SURFACE) as SpaceShape['look'][]).map((look) => [
      look,
      new MeshStandardMaterial({ color: colours[look], ...SURFACE[look] }),
    ]),
  ) as Record<SpaceShape['look'], MeshStandardMaterial>
  const glow = {
    chosen: new LineBasicMaterial({ color: colours.mark }),
    stop: new LineBasicMaterial({ color: colours.stop }),
    watch: new LineBasicMaterial({ color: colours.watch }),
    plain: new LineBasicMaterial({ color: colours.line, transparent: true, opacity: 0.35 }),
  }
  const own: { dispose: () => void }[] = [...Object.values(materials), ...Object.values(glow)]
  const pick: Object3D[] = []
  const limbs: { unit: string; beyond: readonly number[]; place: Matrix4; pose: Matrix4; parts: Object3D[] }[] = []
  const pieces = space.pieces.map((piece) => {
    const group = new Group()
    const [x, y, z] = piece.rotation as unknown as [Point, Point, Point]
    const [px, py, pz] = piece.at_mm as unknown as Point
    const pose = new Matrix4().set(
      ...([x[0], x[1], x[2], px, y[0], y[1], y[2], py, z[0], z[1], z[2], pz, 0, 0, 0, 1] as const),
    )
    group.matrixAutoUpdate = false
    const lines: LineSegments[] = []
    for (const shape of piece.shapes) {
      const { solid, edges, place } = geometryOf(shape)
      const mesh = new Mesh(solid, materials[shape.look])
      const line = new LineSegments(edges, glow.plain)
      for (const each of [mesh, line]) {
        each.matrixAutoUpdate = false
        each.matrix.copy(place)
        group.add(each)
      }
      if (shape.beyond?.length) limbs.push({ unit: piece.unit, beyond: shape.beyond, place, pose, parts: [mesh, line] })
      mesh.userData = { unit: piece.unit, beyond: shape.beyond ?? [] }
      pick.push(mesh)
      lines.push(line)
      own.push(solid, edges)
    }
    for (const band of bandsOf(piece)) {
      const mesh = new Mesh(band.geometry, materials[band.look])
      mesh.matrixAutoUpdate = false
      mesh.matrix.copy(band.place)
      group.add(mesh)
      own.push(band.geometry)
    }
    const front = frontOf(piece)
    if (front) {
      const glass = new Mesh(new CircleGeometry(front.radius, 40), materials.glass)
      glass.matrixAutoUpdate = false
      glass.matrix.compose(front.at, front.turn, new Vector3(1, 1, 1))
      group.add(glass)
      own.push(glass.geometry)
    }
    root.add(group)
    return { piece, group, pose, lines }
  })
  const cables = space.cables.map((cable) => {
    const mesh = new Mesh(new BufferGeometry(), new MeshStandardMaterial({ color: colours.cable, roughness: 0.9 }))
    mesh.userData.unit = cable.cable
    pick.push(mesh)
    root.add(mesh)
    own.push(mesh.material)
    return { cable, mesh }
  })
  const portMaterials = {
    free: new MeshBasicMaterial({ color: colours.mark, side: DoubleSide, depthTest: false, transparent: true }),
    used: new MeshBasicMaterial({
      color: colours.line,
      side: DoubleSide,
      depthTest: false,
      transparent: true,
      opacity: 0.6,
    }),
  }
  const disc = new CircleGeometry(5, 20)
  own.push(disc, ...Object.values(portMaterials))
  const ports = space.ports.map((port) => {
    const mesh = new Mesh(disc, port.free ? portMaterials.free : portMaterials.used)
    mesh.matrixAutoUpdate = false
    mesh.renderOrder = 2
    mesh.visible = false
    mesh.userData = { unit: port.unit, port: port.port, free: port.free }
    root.add(mesh)
    return { port, mesh }
  })
  const weight = cgMark(space, colours, own)
  root.add(weight)
  const axes = space.axes.map((axis) => {
    const [at, along] = [vector(axis.through_mm as Point), vector(axis.along as Point)]
    const geometry = new BufferGeometry().setFromPoints([
      at.clone().addScaledVector(along, -210),
      at.clone().addScaledVector(along, 210),
    ])
    const line = new Line(geometry, new LineDashedMaterial({ color: colours.mark, dashSize: 14, gapSize: 6 }))
    line.computeLineDistances()
    line.matrixAutoUpdate = false
    root.add(line)
    own.push(geometry, line.material)
    const name = lettering(axis.axis, colours.mark)
    if (name) {
      name.sprite.position.copy(at).addScaledVector(along, 232)
      line.add(name.sprite)
      own.push(...name.own)
    }
    return { axis, line }
  })
  for (const hinge of space.hinges) {
    const owner = pieces.find((p) => p.piece.unit === hinge.unit)
    if (!owner) continue
    for (const { geometry, look, place } of ballOf(hinge, owner.piece)) {
      const mesh = new Mesh(geometry, materials[look])
      mesh.userData = { unit: hinge.unit, beyond: [] }
      mesh.matrixAutoUpdate = false
      mesh.matrix.copy(owner.pose).invert().multiply(place)
      const beyond = space.hinges.filter((h) => h.unit === hinge.unit && h.hinge < hinge.hinge).map((h) => h.hinge)
      if (beyond.length)
        limbs.push({ unit: hinge.unit, beyond, place: mesh.matrix.clone(), pose: owner.pose, parts: [mesh] })
      owner.group.add(mesh)
      pick.push(mesh)
      own.push(geometry)
    }
  }
  const pullOf = new Map(space.pieces.map((p) => [p.unit, vector(p.pull as Point)]))
  const stepOf = new Map(space.pieces.map((p) => [p.unit, p.step]))

  const pose: Built['pose'] = (angles, apart, upTo, slid) => {
    const at = (unit: string, by: SpacePiece['turns_with']): Matrix4 => {
      const off = (pullOf.get(unit) ?? new Vector3()).clone().multiplyScalar(apart * APART_MM)
      const found = turned(space, by, angles).multiply(new Matrix4().makeTranslation(off))
      return slid?.units.has(unit) ? found.multiply(slid.by) : found
    }
    for (const { unit, beyond, place, pose: own_, parts } of limbs) {
      const bends = slid?.arm?.unit === unit && beyond.includes(slid.arm.hinge)
      const matrix = bends ? own_.clone().invert().multiply(slid.by).multiply(own_).multiply(place) : place
      for (const part of parts) {
        part.matrix.copy(matrix)
        part.matrixWorldNeedsUpdate = true
      }
    }
    for (const { piece, group, pose: own_ } of pieces) {
      group.matrix.copy(at(piece.unit, piece.turns_with)).multiply(own_)
      group.matrixWorldNeedsUpdate = true
      group.visible = piece.step <= upTo
    }
    for (const { cable, mesh } of cables) {
      mesh.visible = cable.units.every((unit) => (stepOf.get(unit) ?? 0) <= upTo)
      const [a, b] = cable.ends_mm.map((end, i) =>
        vector(end as Point).applyMatrix4(at(cable.units[i] ?? '', cable.turns_with[i] ?? 'fixed')),
      ) as [Vector3, Vector3]
      mesh.geometry.dispose()
      mesh.geometry = tube(cable, a, b)
    }
    for (const { port, mesh } of ports) {
      const face = new Quaternion().setFromUnitVectors(new Vector3(0, 0, 1), vector(port.faces as Point))
      mesh.matrix
        .copy(at(port.unit, port.turns_with))
        .multiply(new Matrix4().compose(vector(port.at_mm as Point), face, new Vector3(1, 1, 1)))
      mesh.matrixWorldNeedsUpdate = true
    }
    weight.matrix.copy(turned(space, space.axes.length ? 'tilt' : 'fixed', angles))
    weight.matrixWorldNeedsUpdate = true
    weight.visible = apart < 0.05
    for (const { axis, line } of axes) {
      line.matrix.copy(turned(space, axis.axis, angles))
      line.matrixWorldNeedsUpdate = true
      line.visible = apart < 0.05
    }
  }

  return {
    root,
    pick,
    pose,
    mark: (selected, flagged, hits) => {
      for (const { piece, lines } of pieces) {
        const level = hits.includes(piece.unit) ? 'stop' : flagged[piece.unit]
        const material =
          piece.unit === selected
            ? glow.chosen
            : level === 'stop'
              ? glow.stop
              : level === 'watch'
                ? glow.watch
                : glow.plain
        for (const line of lines) line.material = material
      }
    },
    showPorts: (of) => {
      for (const { port, mesh } of ports) mesh.visible = of === 'all' ? port.free : port.unit === of
    },
    free: () => {
      for (const each of own) each.dispose()
      for (const { mesh } of cables) mesh.geometry.dispose()
    },
  }
}

/** What shows a hinge: a ball in its cup, or at an elbow two discs and the lever that locks them. They are drawn only. */
function ballOf(
  hinge: SpaceHinge,
  piece: SpacePiece,
): { geometry: BufferGeometry; look: SpaceShape['look']; place: Matrix4 }[] {
  const thick = Math.max(6, ...piece.shapes.map((shape) => shape.radius_mm ?? 0))
  const [at, along] = [hinge.through_mm, hinge.along].map((v) => vector(v as unknown as Point)) as [Vector3, Vector3]
  const turn = new Quaternion().setFromUnitVectors(UP, along)
  const put = (off: number): Matrix4 =>
    new Matrix4().compose(at.clone().addScaledVector(along, off), turn, new Vector3(1, 1, 1))
  const ball = { geometry: new SphereGeometry(thick * 0.98, 28, 18), look: 'metal' as const, place: put(0) }
  if (hinge.label !== 'elbow') return [ball]
  return [
    { geometry: new CylinderGeometry(thick, thick, thick * 1.5, 36), look: 'metal', place: put(0) },
    { geometry: new CylinderGeometry(thick * 0.8, thick * 0.95, thick, 18), look: 'soft', place: put(thick * 1.25) },
  ]
}

/** A word that always faces the eye; none where nothing can be written. */
function lettering(word: string, colour: string): { sprite: Sprite; own: { dispose: () => void }[] } | null {
  if (typeof document === 'undefined') return null
  const sheet = document.createElement('canvas')
  Object.assign(sheet, { width: 128, height: 48 })
  const on = sheet.getContext('2d')
  if (!on) return null
  on.font = '600 34px "Atkinson Hyperlegible Next Variable", sans-serif'
  on.textAlign = 'center'
  on.textBaseline = 'middle'
  on.fillStyle = colour
  on.fillText(word, 64, 24)
  const map = new CanvasTexture(sheet)
  const material = new SpriteMaterial({ map, transparent: true, depthTest: false })
  const sprite = new Sprite(material)
  sprite.scale.set(64, 24, 1)
  sprite.renderOrder = 4
  return { sprite, own: [map, material] }
}

/** Where bands sit on a barrel, as shares of its length, how much they stand out, mm, and what they are made of. */
type Bands = readonly (readonly [from: number, to: number, out: number, look: SpaceShape['look']])[]
const RINGS: Bands = [
  [0.14, 0.3, 1.4, 'soft'],
  [0.5, 0.76, 1.8, 'soft'],
  [0.9, 0.93, 0.6, 'metal'],
]
const CAPS: Bands = [
  [0.02, 0.12, 0.8, 'metal'],
  [0.86, 0.98, 0.8, 'metal'],
]
const LOCKS: Bands = [
  [0.3, 0.335, 5, 'metal'],
  [0.62, 0.65, 4, 'metal'],
]

/** What shows a barrel to be a lens, a motor or a leg: rings to turn, caps, leg locks. They are drawn, not measured. */
function bandsOf(piece: SpacePiece): { geometry: BufferGeometry; place: Matrix4; look: SpaceShape['look'] }[] {
  const found = []
  for (const shape of piece.shapes) {
    if (!shape.barrel) continue
    const [a, b] = shape.barrel as unknown as [Point, Point]
    const [from, to] = [vector(a), vector(b)]
    const along = to.clone().sub(from)
    const length = along.length()
    const [r0, r1] = [shape.radius_mm ?? 0, shape.end_radius_mm ?? 0]
    const bands =
      piece.kind === 'lens' && length > 24 && shape.look !== 'glass'
        ? RINGS
        : piece.kind === 'gimbal' && shape.look === 'body' && length < 4 * r0
          ? CAPS
          : piece.kind === 'sticks' && length > 20 * r0
            ? LOCKS
            : []
    const turn = new Quaternion().setFromUnitVectors(UP, along.clone().normalize())
    for (const [start, end, out, look] of bands) {
      const at = (share: number): number => r0 + (r1 - r0) * share + out
      found.push({
        geometry: new CylinderGeometry(at(end), at(start), (end - start) * length, 40),
        place: new Matrix4().compose(
          from.clone().addScaledVector(along, (start + end) / 2),
          turn,
          new Vector3(1, 1, 1),
        ),
        look,
      })
    }
  }
  return found
}

/** The front glass of a lens: a disc at its foremost rim. */
function frontOf(piece: SpacePiece): { at: Vector3; turn: Quaternion; radius: number } | null {
  if (piece.kind !== 'lens') return null
  let best: { at: Vector3; along: Vector3; radius: number } | null = null
  for (const shape of piece.shapes) {
    if (!shape.barrel) continue
    const [a, b] = shape.barrel as unknown as [Point, Point]
    const [from, to] = [vector(a), vector(b)]
    if (!best || to.x > best.at.x)
      best = { at: to, along: to.clone().sub(from).normalize(), radius: (shape.end_radius_mm ?? 0) * 0.82 }
  }
  if (!best) return null
  return {
    at: best.at.clone().addScaledVector(best.along, 0.6),
    turn: new Quaternion().setFromUnitVectors(new Vector3(0, 0, 1), best.along),
    radius: best.radius,
  }
}

/** A cable as it hangs: out of its sockets, and down as far as its slack lets it. */
export function tube(cable: SpaceCable, a: Vector3, b: Vector3): BufferGeometry {
  const middle = a.clone().add(b).multiplyScalar(0.5)
  middle.z -= 2 * cable.sag_mm
  return new TubeGeometry(new QuadraticBezierCurve3(a, middle, b), 18, cable.thick_mm / 2, 6)
}

/** The centre of gravity: a ball in quarters within a cloud of one deviation. */
function cgMark(space: Space, colours: Colours, own: { dispose: () => void }[]): Group {
  const group = new Group()
  group.matrixAutoUpdate = false
  const at = vector(space.cg_mm as Point)
  const dark = new MeshBasicMaterial({ color: colours.line, depthTest: false, transparent: true })
  const light = new MeshBasicMaterial({ color: '#ffffff', depthTest: false, transparent: true })
  for (let i = 0; i < 8; i++) {
    const geometry = new SphereGeometry(
      9,
      8,
      6,
      (Math.floor(i / 2) * Math.PI) / 2,
      Math.PI / 2,
      ((i % 2) * Math.PI) / 2,
      Math.PI / 2,
    )
    const quarter = new Mesh(geometry, (Math.floor(i / 2) + i) % 2 ? dark : light)
    quarter.position.copy(at)
    quarter.renderOrder = 3
    group.add(quarter)
    own.push(geometry)
  }
  const cloud = new SphereGeometry(1, 20, 14)
  const haze = new MeshBasicMaterial({
    color: colours.mark,
    transparent: true,
    opacity: 0.18,
    depthWrite: false,
    depthTest: false,
  })
  const spread = new Mesh(cloud, haze)
  spread.position.copy(at)
  spread.scale.set(...(space.cg_sd_mm.map((v) => Math.max(v, 1)) as [number, number, number]))
  spread.renderOrder = 3
  group.add(spread)
  own.push(dark, light, cloud, haze)
  return group
}

/** Free ports, for a list that says what a click on one means. */
export const freePorts = (space: Space, unit: string): SpacePort[] =>
  space.ports.filter((p) => p.unit === unit && p.free)
