/** One function per endpoint; the types of arguments and answers come from the API's own description. */
import { ask, noted, BROWSER, carried, client, done, Problem, problemOf } from './client'
import type {
  CrewView,
  HouseView,
  InvitationView,
  Invited,
  MeView,
  SessionsView,
  DealView,
  RunCuresView,
  CuresView,
  CustodyView,
  SourceStepRequest,
  WantableView,
  StationView,
  CardStepRequest,
  FreeView,
  SoundView,
  BendTo,
  AccessoriesView,
  AddUnits,
  AddedUnits,
  AddsView,
  Adjust,
  Attach,
  BalanceView,
  BenchView,
  CandidatesView,
  CarryAs,
  ChargerReadView,
  ChangeSheetView,
  ChoicesView,
  CompareView,
  Connect,
  DayView,
  Detach,
  Disconnect,
  DressRequest,
  DressedView,
  DropPreset,
  ElsewhereView,
  ExchangesView,
  FieldsView,
  FoundView,
  FrameView,
  GearModel,
  GearView,
  BricksView,
  BudgetView,
  PackageView,
  GimbalReadView,
  PackEditRequest,
  DevicesView,
  DrillRequest,
  DrillView,
  EntryRequest,
  KeepDrillRequest,
  LogView,
  LogWeatherView,
  PackStepsRequest,
  PackingView,
  PracticeView,
  ResultView,
  SafetyView,
  StandingView,
  TakeRequest,
  GimbalRequest,
  RecordRequest,
  GripAs,
  OffBetween,
  GrowRequest,
  GrownView,
  HistoryView,
  JobRecordLine,
  JobRecordView,
  HoldBy,
  Imported,
  Interface,
  InterfacesView,
  JobCounts,
  JobEditRequest,
  JobView,
  JobsView,
  KeepPreset,
  LevellersView,
  MadeGear,
  MadeRequest,
  MeasureRequest,
  MeasuredView,
  MeterReadView,
  ModelPreview,
  ModelView,
  Move,
  PairsView,
  PartView,
  PatternGear,
  PatternPlanView,
  PatternPreview,
  PasskeysView,
  PatternsView,
  PictureKept,
  PlacesView,
  PlanView,
  PowerView,
  RecipesFile,
  RecipesView,
  RemediesView,
  Removed,
  Replace,
  RunView,
  ReplacedView,
  ScaleView,
  SheetView,
  ShelfView,
  SlideTo,
  SpaceView,
  StarterOrder,
  StarterView,
  StartsView,
  Strip,
  SupportsView,
  SwapsView,
  Turn,
  Wear,
  Unit,
  UnitView,
  UsePreset,
  VenueView,
  WaysView,
} from './schema.gen'

export type House = NonNullable<MeView['house']>
export type Role = MeView['roles'][string]

export type Operation =
  | Attach
  | Move
  | Wear
  | Detach
  | Replace
  | SlideTo
  | Turn
  | BendTo
  | Connect
  | Disconnect
  | Adjust
  | CarryAs
  | HoldBy
  | GripAs
  | OffBetween
  | KeepPreset
  | UsePreset
  | DropPreset
  | Strip

/** An edit of a job; what is left out of it stays as it is. */
export type JobOperation = JobEditRequest['operations'][number]

export type PackStep = PackStepsRequest['steps'][number]
export type PackOperation = PackEditRequest['operations'][number]

export interface Place {
  job: string
  part: string
  rig: string
}

const RIG = '/api/jobs/{job}/parts/{part}/rigs/{rig}'

export const listJobs = (): Promise<JobsView> => ask(client.GET('/api/jobs'))
export const makeJob = (title: string, day: string, zone: string, settings_of: string): Promise<JobsView> =>
  ask(client.POST('/api/jobs', { body: { title, day, zone, settings_of } }))
export const loadDemo = (): Promise<JobsView> => ask(client.POST('/api/demo'))
export const copyJob = (job: string, title: string, day: string): Promise<JobsView> =>
  ask(client.POST('/api/jobs/{job}/copy', { params: { path: { job } }, body: { title, day } }))
export const archiveJob = (job: string, archived: boolean): Promise<JobsView> =>
  ask(client.POST('/api/jobs/{job}/archive', { params: { path: { job } }, body: { archived } }))
export const removeJob = (job: string): Promise<JobsView> =>
  ask(client.DELETE('/api/jobs/{job}', { params: { path: { job } } }))
export const countJob = (job: string): Promise<JobCounts> =>
  ask(client.GET('/api/jobs/{job}/counts', { params: { path: { job } } }))
export const readVenue = (job: string, part: string): Promise<VenueView> =>
  ask(client.GET('/api/jobs/{job}/venue', { params: { path: { job }, query: { part } } }))
export const readRecipes = (): Promise<RecipesView> => ask(client.GET('/api/recipes'))
export const keepRecipe = (job: string, build: string, label: string): Promise<RecipesView> =>
  ask(client.POST('/api/recipes', { body: { job, build, label } }))
export const changeRecipe = (recipe: string, change: { label?: string; removed?: boolean }): Promise<RecipesView> =>
  ask(client.POST('/api/recipes/{recipe}', { params: { path: { recipe } }, body: change }))
export const importRecipes = (file: RecipesFile): Promise<RecipesView> =>
  ask(client.POST('/api/recipes/file', { body: file }))
export const readElsewhere = (job: string): Promise<ElsewhereView> =>
  ask(client.GET('/api/jobs/{job}/elsewhere', { params: { path: { job } } }))
export const dressRecipe = (job: string, ask_: DressRequest): Promise<DressedView> =>
  ask(client.POST('/api/jobs/{job}/dress', { params: { path: { job } }, body: ask_ }))
export const readFrame = (job: string): Promise<FrameView> =>
  ask(client.GET('/api/jobs/{job}/frame', { params: { path: { job } } }))
export const readChoices = (): Promise<ChoicesView> => ask(client.GET('/api/choices'))
export const editJob = (job: string, version: number, operations: JobOperation[]): Promise<FrameView> =>
  ask(client.POST('/api/jobs/{job}/edits', { params: { path: { job } }, body: { version, operations } }))
export const undoJob = (job: string, version: number, anyway = false): Promise<FrameView> =>
  ask(client.POST('/api/jobs/{job}/undo', { params: { path: { job } }, body: { version, anyway } }))
export const undoPacking = (job: string, version: number, anyway = false): Promise<FrameView> =>
  ask(client.POST('/api/jobs/{job}/pack/undo', { params: { path: { job } }, body: { version, anyway } }))
export const redoJob = (job: string, version: number, anyway = false): Promise<FrameView> =>
  ask(client.POST('/api/jobs/{job}/redo', { params: { path: { job } }, body: { version, anyway } }))
export const readJob = (job: string): Promise<JobView> =>
  ask(client.GET('/api/jobs/{job}', { params: { path: { job } } }))
export const readPart = (job: string, part: string): Promise<PartView> =>
  ask(client.GET('/api/jobs/{job}/parts/{part}', { params: { path: { job, part } } }))
export const readBench = (path: Place): Promise<BenchView> => ask(client.GET(RIG, { params: { path } }))
export const editBench = (path: Place, version: number, operations: Operation[]): Promise<BenchView> =>
  ask(client.POST(`${RIG}/edits`, { params: { path }, body: { version, operations } }))
export const previewBench = (path: Place, operations: Operation[]): Promise<BenchView> =>
  ask(client.POST(`${RIG}/preview`, { params: { path }, body: { operations } }))
export const undoBench = (path: Place, version: number, anyway = false): Promise<BenchView> =>
  ask(client.POST(`${RIG}/undo`, { params: { path }, body: { version, anyway } }))
export const redoBench = (path: Place, version: number, anyway = false): Promise<BenchView> =>
  ask(client.POST(`${RIG}/redo`, { params: { path }, body: { version, anyway } }))
export const readPort = (path: Place, unit: string, port: string, misfits: boolean): Promise<CandidatesView> =>
  ask(client.GET(`${RIG}/ports/{unit}/{port}`, { params: { path: { ...path, unit, port }, query: { misfits } } }))
export const readRemedies = (path: Place, finding: string, start = 0): Promise<RemediesView> =>
  ask(client.GET(`${RIG}/remedies`, { params: { path, query: { finding, start } } }))
/** The rig as it was after an edit; it is looked at and not saved. */
export const readEarlier = (path: Place, to: number): Promise<BenchView> =>
  ask(client.GET(`${RIG}/history/{to}`, { params: { path: { ...path, to } } }))
export const bringBuildBack = (path: Place, version: number, to: number): Promise<BenchView> =>
  ask(client.POST(`${RIG}/history/{to}`, { params: { path: { ...path, to } }, body: { version } }))
export interface RecordAsk {
  kind?: JobRecordLine['kind']
  actor?: string
  rig?: string
}
/** What was done in a job, latest first, from a line on. */
export const readRecord = (job: string, what: RecordAsk, from?: JobRecordLine): Promise<JobRecordView> =>
  ask(
    client.GET('/api/jobs/{job}/record', {
      params: {
        path: { job },
        query: {
          ...what,
          ...(from ? { at: from.at, from_kind: from.kind, from_thing: from.thing, number: from.number } : {}),
        },
      },
    }),
  )
export const bringFrameBack = (job: string, version: number, to: number): Promise<FrameView> =>
  ask(client.POST('/api/jobs/{job}/history/{to}', { params: { path: { job, to } }, body: { version } }))
export const readHistory = (path: Place): Promise<HistoryView> =>
  ask(client.GET(`${RIG}/history`, { params: { path } }))
export const readAdds = (path: Place, words: string, unit = ''): Promise<AddsView> =>
  ask(client.GET(`${RIG}/adds`, { params: { path, query: { words, unit } } }))
export const readExchanges = (path: Place, unit: string, words: string): Promise<ExchangesView> =>
  ask(client.GET(`${RIG}/exchanges/{unit}`, { params: { path: { ...path, unit }, query: { words } } }))
export const readStarts = (path: Place): Promise<StartsView> =>
  ask(client.GET(`${RIG}/proposal/starts`, { params: { path } }))
export const growProposal = (path: Place, body: GrowRequest): Promise<GrownView> =>
  ask(client.POST(`${RIG}/proposal/step`, { params: { path }, body }))
export const findInJob = (job: string, part: string, words: string): Promise<FoundView> =>
  ask(client.GET('/api/jobs/{job}/find', { params: { path: { job }, query: { words, part } } }))
export const readPlaces = (path: Place, unit: string): Promise<PlacesView> =>
  ask(client.GET(`${RIG}/places/{unit}`, { params: { path: { ...path, unit } } }))
export const readFit = (path: Place, unit: string, onto: string, port: string): Promise<WaysView> =>
  ask(client.GET(`${RIG}/fit`, { params: { path, query: { unit, onto, port } } }))
export const readBalance = (
  path: Place,
  order: '' | 'tilt first' | 'roll first',
  ends: [number, number] | null = null,
): Promise<BalanceView> =>
  ask(
    client.GET(`${RIG}/balance`, {
      params: { path, query: { order, ...(ends ? { wide: ends[0], long: ends[1] } : {}) } },
    }),
  )
export const recordBalance = (path: Place, body: RecordRequest): Promise<BalanceView | null> =>
  noted(client.POST(`${RIG}/balance`, { params: { path }, body }))
export const touchBalance = (
  path: Place,
  balance: number,
  thing: string,
  changed: boolean,
): Promise<BalanceView | null> =>
  noted(
    client.POST(`${RIG}/balance/{balance}/touched`, {
      params: { path: { ...path, balance } },
      body: { thing, changed },
    }),
  )
export const dropBalance = (path: Place, balance: number, removed: boolean): Promise<BalanceView> =>
  ask(client.POST(`${RIG}/balance/{balance}`, { params: { path: { ...path, balance } }, body: { removed } }))
export const readGimbal = (path: Place, body: GimbalRequest): Promise<GimbalReadView> =>
  ask(client.POST(`${RIG}/balance/gimbal`, { params: { path }, body }))
export const readLevellers = (path: Place): Promise<LevellersView> =>
  ask(client.GET(`${RIG}/balance/levellers`, { params: { path } }))
export const readLenses = (path: Place, body: string): Promise<PairsView> =>
  ask(client.GET(`${RIG}/lenses`, { params: { path, query: { body } } }))
export const readPackage = (path: Place): Promise<PackageView> =>
  ask(client.GET(`${RIG}/package`, { params: { path } }))
export const readDay = (job: string): Promise<DayView> =>
  ask(client.GET('/api/jobs/{job}/day', { params: { path: { job } } }))
export const readGear = (job: string): Promise<GearView> =>
  ask(client.GET('/api/jobs/{job}/day/gear', { params: { path: { job } } }))
export const readRun = (job: string, late_part: string, late_min: number, search: boolean): Promise<RunView> =>
  ask(client.GET('/api/jobs/{job}/day/run', { params: { path: { job }, query: { late_part, late_min, search } } }))
export const readCures = (job: string, part: string, rig: string, build: string): Promise<CuresView> =>
  ask(client.GET('/api/jobs/{job}/day/cures/{part}/{rig}/{build}', { params: { path: { job, part, rig, build } } }))
export const readRunCures = (job: string, late_part: string, late_min: number): Promise<RunCuresView> =>
  ask(client.GET('/api/jobs/{job}/day/run/cures', { params: { path: { job }, query: { late_part, late_min } } }))
export const readDeal = (job: string): Promise<DealView> =>
  ask(client.GET('/api/jobs/{job}/day/gear/deal', { params: { path: { job } } }))
export const readMe = (): Promise<MeView> => ask(client.GET('/api/me'))
const KEYS = '/api/me/passkeys'
export const readPasskeys = (): Promise<PasskeysView> => ask(client.GET(KEYS))
/** What a device is asked that is to hold a key, in the form of the Web Authentication standard. */
export const askForPasskey = async (): Promise<Record<string, unknown>> =>
  (await ask(client.POST(`${KEYS}/new`))).options
export const makePasskey = (answer: Record<string, unknown>, label: string): Promise<PasskeysView> =>
  ask(client.POST(KEYS, { body: { answer, label } }))
export const dropPasskey = (key: string): Promise<PasskeysView> =>
  ask(client.DELETE(`${KEYS}/{key}`, { params: { path: { key } } }))
export const askForSignIn = async (): Promise<Record<string, unknown>> =>
  (await ask(client.POST(`${KEYS}/ask`))).options
export const signInByPasskey = (answer: Record<string, unknown>): Promise<unknown> =>
  done(client.POST(`${KEYS}/sign-in`, { body: { answer } })).finally(forgetRead)
/** What was read as somebody stays with nobody else on this device. */
export const forgetRead = (): void => navigator.serviceWorker?.controller?.postMessage('forget')
export const signIn = (name: string, password: string): Promise<unknown> =>
  done(client.POST('/api/me/sign-in', { body: { name, password } })).finally(forgetRead)
export const makeFirst = (code: string, name: string, password: string): Promise<unknown> =>
  done(client.POST('/api/me/first', { body: { code, name, password } })).finally(forgetRead)
export const tryAs = (account: string): Promise<unknown> =>
  done(client.POST('/api/me/try', { body: { account } })).finally(forgetRead)
export const signOut = (): Promise<unknown> => done(client.POST('/api/me/sign-out')).finally(forgetRead)
export const changePassword = (old: string, next: string): Promise<unknown> =>
  done(client.POST('/api/me/password', { body: { old, new: next } }))
export const readSessions = (): Promise<SessionsView> => ask(client.GET('/api/me/sessions'))
export const endSession = (session: number): Promise<SessionsView> =>
  ask(client.DELETE('/api/me/sessions/{session}', { params: { path: { session } } }))
export const endSessions = (): Promise<SessionsView> => ask(client.DELETE('/api/me/sessions'))
export const readInvitation = (word: string): Promise<InvitationView> =>
  ask(client.GET('/api/invitations/{word}', { params: { path: { word } } }))
export const acceptInvitation = (word: string, name: string, password: string): Promise<unknown> =>
  done(client.POST('/api/invitations/{word}', { params: { path: { word } }, body: { name, password } }))
export const readCrew = (job: string): Promise<CrewView> =>
  ask(client.GET('/api/jobs/{job}/crew', { params: { path: { job } } }))
export const setRole = (job: string, account: string, role: Role | null): Promise<CrewView> =>
  ask(client.POST('/api/jobs/{job}/crew', { params: { path: { job } }, body: { account, role } }))
export const inviteTo = (job: string, role: Role, works_as = ''): Promise<Invited> =>
  ask(
    client.POST('/api/jobs/{job}/crew/invitations', {
      params: { path: { job } },
      body: { role, house: 'member', works_as },
    }),
  )
/** As whom of the plan somebody works: those cameras are his own. */
export const setWorksAs = (job: string, account: string, works_as: string): Promise<CrewView> =>
  ask(client.POST('/api/jobs/{job}/crew/works-as', { params: { path: { job } }, body: { account, works_as } }))
export const takeBackHouseInvitation = (invitation: number): Promise<HouseView> =>
  ask(client.DELETE('/api/house/invitations/{invitation}', { params: { path: { invitation } } }))
export const takeBackInvitation = (job: string, invitation: number): Promise<CrewView> =>
  ask(client.DELETE('/api/jobs/{job}/crew/invitations/{invitation}', { params: { path: { job, invitation } } }))
export const readHouse = (): Promise<HouseView> => ask(client.GET('/api/house'))
export const setHouse = (account: string, house: House | null): Promise<HouseView> =>
  ask(client.POST('/api/house/{account}', { params: { path: { account } }, body: { house } }))
export const resetPassword = (account: string): Promise<Invited> =>
  ask(client.POST('/api/house/{account}/password', { params: { path: { account } } }))
export const inviteToHouse = (house: House): Promise<Invited> =>
  ask(client.POST('/api/house/invitations', { body: { house } }))
export const readSound = (job: string): Promise<SoundView> =>
  ask(client.GET('/api/jobs/{job}/sound', { params: { path: { job } } }))
export const noteAtSource = (job: string, body: SourceStepRequest): Promise<SoundView | null> =>
  noted(client.POST('/api/jobs/{job}/sound/steps', { params: { path: { job } }, body }))
export const takeBackAtSource = (job: string, step: number): Promise<SoundView | null> =>
  noted(client.DELETE('/api/jobs/{job}/sound/steps/{step}', { params: { path: { job, step } } }))
export const soundLog = (job: string): string => `/api/jobs/${job}/sound/log.csv`
export const readFreeChannels = (job: string): Promise<FreeView> =>
  ask(client.GET('/api/jobs/{job}/sound/free', { params: { path: { job } } }))
export const readBudget = (job: string): Promise<BudgetView> =>
  ask(client.GET('/api/jobs/{job}/day/budget', { params: { path: { job } } }))
export const readWantable = (
  job: string,
  part: string,
  rig: string,
  unit: string,
  words: string,
): Promise<WantableView> =>
  ask(
    client.GET('/api/jobs/{job}/day/wantable/{part}/{rig}', {
      params: { path: { job, part, rig }, query: { unit, words } },
    }),
  )
export const readChange = (job: string, part: string, rig: string): Promise<ChangeSheetView> =>
  ask(client.GET('/api/jobs/{job}/day/changes/{part}/{rig}', { params: { path: { job, part, rig } } }))
export const readBricks = (path: Place, pack: string): Promise<BricksView> =>
  ask(client.GET(`${RIG}/power/packs`, { params: { path, query: { pack } } }))
export const readAccessories = (path: Place): Promise<AccessoriesView> =>
  ask(client.GET(`${RIG}/accessories`, { params: { path } }))
export const readSupports = (path: Place): Promise<SupportsView> =>
  ask(client.GET(`${RIG}/balance/supports`, { params: { path } }))
export const readSpace = (path: Place): Promise<SpaceView> => ask(client.GET(`${RIG}/space`, { params: { path } }))
export const readSheet = (path: Place): Promise<SheetView> => ask(client.GET(`${RIG}/sheet`, { params: { path } }))

export interface Side {
  part: string
  build: string
}
export const compareBuilds = (job: string, left: Side, right: Side): Promise<CompareView> =>
  ask(
    client.GET('/api/jobs/{job}/compare', {
      params: {
        path: { job },
        query: {
          left_part: left.part,
          left_build: left.build,
          right_part: right.part,
          right_build: right.build,
        },
      },
    }),
  )

export interface ShelfAsk {
  words: string
  kind: string
  interface: string
  side: '' | 'takes' | 'goes on'
  owner: '' | 'owned' | 'hired'
  free_only: boolean
  job: string
  part: string
  skip?: number
}
export const readShelf = (query: ShelfAsk): Promise<ShelfView> => ask(client.GET('/api/shelf', { params: { query } }))
export const readInterfaces = (): Promise<InterfacesView> => ask(client.GET('/api/shelf/interfaces'))
/** `seen`: the last change of it that was looked at; null: it is new. */
export const putInterface = (body: Interface, seen: number | null): Promise<InterfacesView> =>
  ask(client.PUT('/api/shelf/interfaces', { body, params: { query: { seen } } }))
export const readModel = (model: string): Promise<ModelView> =>
  ask(client.GET('/api/shelf/models/{model}', { params: { path: { model } } }))
export const previewModel = (body: GearModel): Promise<ModelPreview> => ask(client.POST('/api/shelf/preview', { body }))
export const putModel = (body: GearModel, seen: number | null): Promise<ModelView> =>
  ask(client.PUT('/api/shelf/models', { body, params: { query: { seen } } }))
export const readUnit = (unit: string): Promise<UnitView> =>
  ask(client.GET('/api/shelf/units/{unit}', { params: { path: { unit } } }))
export const putUnit = (body: Unit, seen: number | null): Promise<UnitView> =>
  ask(client.PUT('/api/shelf/units', { body, params: { query: { seen } } }))
export const addUnits = (body: AddUnits): Promise<AddedUnits> => ask(client.POST('/api/shelf/units', { body }))
export const removeUnit = (unit: string, seen: number): Promise<AddedUnits> =>
  ask(client.DELETE('/api/shelf/units/{unit}', { params: { path: { unit }, query: { seen } } }))
export const readFields = (): Promise<FieldsView> => ask(client.GET('/api/shelf/fields'))
export const removeModel = (model: string, seen: number): Promise<Removed> =>
  ask(client.DELETE('/api/shelf/models/{model}', { params: { path: { model }, query: { seen } } }))
export const removeInterface = (id: string, seen: number): Promise<InterfacesView> =>
  ask(client.DELETE('/api/shelf/interfaces/{interface}', { params: { path: { interface: id }, query: { seen } } }))
export const readPatterns = (): Promise<PatternsView> => ask(client.GET('/api/shelf/patterns'))
export const previewPattern = (pattern: string, answers: PatternGear['answers']): Promise<PatternPreview> =>
  ask(client.POST('/api/shelf/patterns/{pattern}/preview', { params: { path: { pattern } }, body: { answers } }))
export const addByPattern = (pattern: string, body: PatternGear): Promise<MadeGear> =>
  ask(client.POST('/api/shelf/patterns/{pattern}', { params: { path: { pattern } }, body }))
const patternAddress = (pattern: string): string => `/api/shelf/patterns/${encodeURIComponent(pattern)}`
export const templateAddress = (pattern: string): string => `${patternAddress(pattern)}/template`
export const importModels = (pattern: string, file: Blob, apply: boolean): Promise<PatternPlanView> =>
  send<PatternPlanView>(`${patternAddress(pattern)}/import?apply=${String(apply)}`, file, 'text/csv')
export const readStarter = (): Promise<StarterView> => ask(client.GET('/api/shelf/starter'))
export const addStarter = (body: StarterOrder): Promise<AddedUnits> => ask(client.POST('/api/shelf/starter', { body }))
export const readScale = (): Promise<ScaleView> => ask(client.GET('/api/shelf/scale'))
export const measure = (body: MeasureRequest): Promise<MeasuredView> => ask(client.POST('/api/shelf/measure', { body }))
export const unitsAddress = '/api/shelf/units.csv'
export const drawingAddress = (p: Place, kind: 'svg' | 'pdf', view: string, scale: number): string =>
  `/api/jobs/${encodeURIComponent(p.job)}/parts/${encodeURIComponent(p.part)}/rigs/${encodeURIComponent(p.rig)}/drawing.${kind}?view=${view}&scale=${String(scale)}`
export const exportAddress = (job: string): string => `/api/jobs/${encodeURIComponent(job)}/file`

export const keepPicture = (file: Blob): Promise<PictureKept> =>
  send<PictureKept>('/api/pictures', file, file.type || 'image/jpeg')
export const pictureAt = (id: string): string => `/api/pictures/${encodeURIComponent(id)}`
export const importJob = (file: Blob, replace: boolean): Promise<Imported> =>
  send<Imported>(`/api/import?replace=${String(replace)}`, file, 'application/json')
export const importUnits = (file: Blob, apply: boolean, revision?: number): Promise<PlanView> =>
  send<PlanView>(
    `${unitsAddress}?apply=${String(apply)}${revision === undefined ? '' : `&revision=${String(revision)}`}`,
    file,
    'text/csv',
  )

export const readReplaced = (job: string): Promise<ReplacedView> =>
  ask(client.GET('/api/jobs/{job}/replaced', { params: { path: { job } } }))
export const bringBack = (job: string, replaced: number): Promise<ReplacedView> =>
  ask(client.POST('/api/jobs/{job}/replaced/{replaced}', { params: { path: { job, replaced } } }))

/** Sends the file as it is, so that the server reads exactly what was picked. */
async function send<T>(address: string, file: Blob, type: string): Promise<T> {
  let response: Response
  try {
    response = await fetch(address, {
      method: 'POST',
      headers: { 'Content-Type': type, ...(await carried()) },
      body: file,
    })
  } catch {
    throw new Problem(0, 'No answer', 'The file did not reach the server. Nothing was changed.', 'network')
  }
  const body: unknown = await response.json().catch(() => null)
  if (!response.ok) throw problemOf(response.status, body)
  return body as T
}

/** How a day may differ from its plan. */
export interface WhatIf {
  dead: string
  colder: number
  mains: boolean
  late: number
  monitors: number
}
/** A day of swaps as it is planned, nothing supposed. */
export const PLAN: WhatIf = { dead: '', colder: 0, mains: true, late: 0, monitors: 1 }
const SWAPS = '/api/jobs/{job}/swaps'
export const readPower = (path: Place, mode: 'standby' | 'record' | 'peak', empty: boolean): Promise<PowerView> =>
  ask(client.GET(`${RIG}/power`, { params: { path, query: { mode, empty } } }))
export const readSwaps = (job: string, part: string, what: WhatIf): Promise<SwapsView> =>
  ask(client.GET(SWAPS, { params: { path: { job }, query: { part, ...what, late_part: part } } }))
export const noteSwap = (job: string, part: string, body: MadeRequest): Promise<SwapsView | null> =>
  noted(client.POST(`${SWAPS}/made`, { params: { path: { job }, query: { part } }, body }))
export const dropSwap = (job: string, part: string, swap: number): Promise<SwapsView | null> =>
  noted(client.DELETE(`${SWAPS}/made/{swap}`, { params: { path: { job, swap }, query: { part } } }))
export const swapsAddress = (job: string, part: string, format: 'ics' | 'csv'): string =>
  `/api/jobs/${job}/swaps.${format}?part=${part}`
const CARDS = '/api/jobs/{job}/cards'
const PACK = '/api/jobs/{job}/pack'
export const readPacking = (job: string): Promise<PackingView> => ask(client.GET(PACK, { params: { path: { job } } }))
export const editPacking = (job: string, version: number, operations: PackOperation[]): Promise<FrameView> =>
  ask(client.POST(`${PACK}/edits`, { params: { path: { job } }, body: { version, operations } }))
export const notePackSteps = (
  job: string,
  steps: PackStepsRequest['steps'],
  anyway = false,
  at: string | null = null,
): Promise<PackingView | null> =>
  noted(client.POST(`${PACK}/steps`, { params: { path: { job } }, body: { steps, anyway, at } }))
export const takeBackPackStep = (job: string, step: number): Promise<PackingView | null> =>
  noted(client.DELETE(`${PACK}/steps/{step}`, { params: { path: { job, step } } }))
/** Where the packing is had as a file. */
export const packFile = (
  job: string,
  name: 'packing.csv' | 'packing.pdf' | 'labels.pdf' | 'labels.pdf?only=cases',
): string => `/api/jobs/${job}/pack/${name}`
export const readStanding = (job: string): Promise<StandingView> =>
  ask(client.GET('/api/jobs/{job}/standing', { params: { path: { job } } }))
export const readSafety = (job: string): Promise<SafetyView> =>
  ask(client.GET('/api/jobs/{job}/safety', { params: { path: { job } } }))
export const safetyFile = (job: string): string => `/api/jobs/${job}/safety/safety.pdf`
export const readDevices = (): Promise<DevicesView> => ask(client.GET('/api/devices'))
export const readScanned = (): Promise<{ label: string }> => ask(client.GET('/api/devices/reader'))
const DRILL = '/api/jobs/{job}/drill'
export const readPractice = (job: string): Promise<PracticeView> =>
  ask(client.GET(DRILL, { params: { path: { job } } }))
export const lookAtDrill = (job: string, body: DrillRequest): Promise<DrillView> =>
  ask(client.POST(`${DRILL}/look`, { params: { path: { job } }, body }))
export const endDrill = (job: string, body: DrillRequest): Promise<ResultView> =>
  ask(client.POST(`${DRILL}/end`, { params: { path: { job } }, body }))
export const keepDrill = (job: string, body: KeepDrillRequest): Promise<PracticeView> =>
  ask(client.POST(`${DRILL}/kept`, { params: { path: { job } }, body }))
export const dropDrill = (job: string, number: number): Promise<PracticeView> =>
  ask(client.DELETE(`${DRILL}/kept/{number}`, { params: { path: { job, number } } }))
const LOG = '/api/jobs/{job}/log'
export const readLog = (job: string, part: string): Promise<LogView> =>
  ask(client.GET(LOG, { params: { path: { job }, query: { part } } }))
export const noteEntry = (job: string, part: string, body: EntryRequest): Promise<LogView | null> =>
  noted(client.POST(`${LOG}/entries`, { params: { path: { job }, query: { part } }, body }))
export const takeBackEntry = (job: string, part: string, entry: string): Promise<LogView | null> =>
  noted(client.DELETE(`${LOG}/entries/{entry}`, { params: { path: { job, entry }, query: { part } } }))
export const takeFigure = (job: string, part: string, body: TakeRequest): Promise<LogView> =>
  ask(
    client.POST(body.of === 'minutes' ? `${LOG}/figures/setting` : `${LOG}/figures/unit`, {
      params: { path: { job }, query: { part } },
      body,
    }),
  )
export interface TypedWeather {
  air?: number
  wind?: number
  gust?: number
  lux?: number
}
/** Of the station; of what was typed where that is given. */
export const readWeather = (job: string, part: string, typed: TypedWeather | null): Promise<LogWeatherView> =>
  ask(
    client.GET(`${LOG}/weather`, {
      params: { path: { job }, query: { part, station: typed === null, ...(typed ?? {}) } },
    }),
  )
export const logFile = (job: string, part: string, name: 'log.csv' | 'report.pdf'): string =>
  `/api/jobs/${job}/log/${name}${name === 'report.pdf' ? `?part=${encodeURIComponent(part)}` : ''}`
export const readCustody = (job: string): Promise<CustodyView> => ask(client.GET(CARDS, { params: { path: { job } } }))
export const noteCardStep = (job: string, body: CardStepRequest): Promise<CustodyView | null> =>
  noted(client.POST(`${CARDS}/steps`, { params: { path: { job } }, body }))
export const takeBackCardStep = (job: string, step: number): Promise<CustodyView | null> =>
  noted(client.DELETE(`${CARDS}/steps/{step}`, { params: { path: { job, step } } }))
export const readStation = (job: string): Promise<StationView> =>
  ask(client.GET(`${CARDS}/station`, { params: { path: { job } } }))
export const putCardInReader = (job: string, reader: number, card: string): Promise<StationView> =>
  ask(client.POST(`${CARDS}/station/{reader}/card`, { params: { path: { job, reader } }, body: { card } }))
export const takeCardFromReader = (job: string, reader: number): Promise<StationView> =>
  ask(client.DELETE(`${CARDS}/station/{reader}/card`, { params: { path: { job, reader } } }))
export const copyAtStation = (job: string, reader: number, drive: string): Promise<StationView> =>
  ask(client.POST(`${CARDS}/station/{reader}/copy`, { params: { path: { job, reader } }, body: { drive } }))
export const noteFromStation = (job: string, reader: number, at: string | null): Promise<CustodyView> =>
  ask(client.POST(`${CARDS}/station/{reader}/note`, { params: { path: { job, reader } }, body: { at } }))
export const custodyFile = (job: string): string => `/api/jobs/${job}/cards/custody.csv`
/** Where the sound list is had as a file. */
export const soundFile = (job: string): string => `/api/jobs/${job}/sound/sound.csv`
/** Where the day is had on paper. */
export const dayPaper = (job: string, what: 'day' | 'run' | 'changes' | 'sound', who = ''): string =>
  `/api/jobs/${job}/day/paper.pdf?what=${what}${who ? `&who=${encodeURIComponent(who)}` : ''}`
/** Where the day is had as a file. */
export const dayFile = (
  job: string,
  name: 'run.ics' | 'run.csv' | 'cards.csv' | 'gear.csv' | 'budget.csv' | 'day.ics',
  who = '',
): string => `/api/jobs/${job}/day/${name}${who ? `?who=${encodeURIComponent(who)}` : ''}`
export const readMeter = (path: Place, unit: string): Promise<MeterReadView> =>
  ask(client.POST(`${RIG}/power/meter`, { params: { path }, body: { unit } }))
export const readCharger = (job: string): Promise<ChargerReadView> =>
  ask(client.GET('/api/jobs/{job}/charger', { params: { path: { job } } }))
export const lookAt = (job: string, at: { part: string; rig: string; place: string }): Promise<void> =>
  done(client.POST('/api/jobs/{job}/looking', { params: { path: { job } }, body: { tab: BROWSER, ...at } }))
/** A job as one page that needs nothing else: of one person, or of everybody. */
export const alongAddress = (job: string, who = ''): string =>
  `/api/jobs/${job}/along.html${who ? `?who=${encodeURIComponent(who)}` : ''}`
