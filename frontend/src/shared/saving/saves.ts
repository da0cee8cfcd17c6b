/** Saves that wait: kept in the browser until the server has them, sent one after the other. */
import { deviceIso, deviceTime } from '@/api/clock'
import { asProblem, type Problem } from '@/api/client'
import type { PassageIn, TapChoice } from '@/api/schema'

/** A level, words or an absence that was tapped in the room: each is sent, in order. */
export type TapKind = 'seen' | 'said' | 'absent'
const TAPS: readonly string[] = ['seen', 'said', 'absent'] satisfies TapKind[]

export const isTap = (save: Pick<Save, 'kind'>) => TAPS.includes(save.kind)

export interface Save {
  /** Sorts as it was made. */
  id: string
  /** What it is of, in words: the student and the task. */
  label: string
  classId: number
  taskId: number
  studentId: number
  /** Which attempt at the task, from 1. */
  attempt: number
  kind: 'choice' | 'remark' | 'passage' | 'finish' | TapKind
  /** null: the remark on the whole. */
  criterionId: number | null
  level_id: number | null
  half_way: boolean
  not_assessed: boolean
  text: string
  /** Of a passage: what stands there from now on. */
  passage?: Omit<PassageIn, 'version'>
  /** Of a tap in the room: whether the student is absent; what the page showed before (null: it holds
   * whatever stands there); the server's time of the class it was made in. */
  absent?: boolean
  before?: TapChoice | null
  saidBefore?: string | null
  /** It puts back what was carried over. */
  carries?: boolean
  loadedAt?: string
  /** When it was made, by the browser's clock; not known of those kept by an earlier version. */
  madeAt?: string
  /** The version of the mark that was seen when it was made; of a passage, since when that stood. */
  version: number
  /** What the server said against it; kept, and not sent again, until the teacher decides. */
  refused?: { message: string; stale: boolean }
}

/** idle: all is saved; gone: the server does not answer, or nobody is signed in any more. */
export type SaveState = 'idle' | 'saving' | 'gone'

export interface SaveQueueOptions<Answer> {
  /** What its records in the browser's storage begin with: another one for each person. */
  prefix: string
  send: (save: Save) => Promise<Answer>
  versionOf: (answer: Answer) => number
  answered: (save: Save, answer: Answer) => void
  refused: (save: Save) => void
  /** The state, or what waits or is refused, is another: told before an answer is. */
  changed: (state: SaveState) => void
  retryAfter?: number
}

/** What waits in the browser of one person, oldest first. */
export function keptSaves(prefix: string): Save[] {
  return new Shelf(prefix).all()
}

/** Take what waits in the browser away for good. */
export function dropSaves(prefix: string): void {
  for (const save of keptSaves(prefix)) new Shelf(prefix).drop(save)
}

/**
 * A queue that survives the page: what the server has not answered stays in the browser. A
 * server that is gone is asked again; what it refuses waits for the teacher, and the rest goes on.
 */
export class SaveQueue<Answer> {
  private saves: Save[]
  private running = false
  private stopped = false
  private state: SaveState = 'idle'
  private timer: ReturnType<typeof setTimeout> | undefined
  private readonly shelf: Shelf

  constructor(private readonly options: SaveQueueOptions<Answer>) {
    this.shelf = new Shelf(options.prefix)
    this.saves = this.shelf.all()
  }

  /** What is not yet known to be saved, oldest first. */
  get waiting(): Save[] {
    return this.saves.filter((save) => !save.refused)
  }

  /** What the server refused and the teacher has not decided yet. */
  get refused(): Save[] {
    return this.saves.filter((save) => save.refused)
  }

  /** How many are in this page only: the browser's storage did not take them. */
  get unkept(): number {
    return this.shelf.unkept
  }

  /** Add a save; one for the same place that is not on its way yet is replaced by it. */
  add(made: Omit<Save, 'id'>): void {
    const save = { ...made, madeAt: made.madeAt ?? deviceIso(), id: nextId() }
    const onItsWay = this.running ? this.waiting[0] : undefined
    // What was finished with it stays as it was: only what came after may be replaced.
    const finish = this.waiting.findLast((one) => one.kind === 'finish' && sameMark(one, save))
    for (const one of this.saves) {
      const open = one.refused || !finish || one.id > finish.id
      if (one !== onItsWay && open && samePlace(one, save)) this.drop(one)
    }
    this.saves.push(save)
    this.shelf.put(save)
    this.tell()
    void this.run()
  }

  /** Send what waits, now. */
  async run(): Promise<void> {
    if (this.running) return
    clearTimeout(this.timer)
    this.running = true
    for (let first = this.waiting[0]; first && !this.stopped; first = this.waiting[0]) {
      this.tell('saving')
      if (await this.sendFirst(first)) continue
      this.running = false
      this.tell('gone')
      if (this.stopped) return
      this.timer = setTimeout(() => void this.run(), this.options.retryAfter ?? 3000)
      return
    }
    this.running = false
    this.tell('idle')
  }

  /** Decide what was refused: send it again, over what stands in `version`, or let it go. */
  decide(save: Save, again: boolean, version: number): void {
    this.drop(save)
    if (!again) return
    this.add({ ...save, refused: undefined, version, before: null, saidBefore: null })
  }

  /** Send nothing more; what waits stays in the browser. */
  stop(): void {
    this.stopped = true
    clearTimeout(this.timer)
  }

  private async sendFirst(save: Save): Promise<boolean> {
    if (!this.shelf.has(save)) {
      // Another tab of the same person took it from the same place and sent it.
      this.drop(save)
      return true
    }
    let answer: Answer
    try {
      answer = await this.options.send(save)
    } catch (error) {
      const problem = asProblem(error)
      if (problem.gone || problem.notMine) return false
      this.refuse(save, problem)
      return true
    }
    this.drop(save)
    for (const one of this.waiting) {
      // A tap goes by what was shown before it, and by no version.
      if (isTap(one)) continue
      // A passage is seen to be another only where it is told anew itself.
      if (!sameMark(one, save) || (one.kind === 'passage' && !samePlace(one, save))) continue
      one.version = Math.max(one.version, this.options.versionOf(answer))
      this.shelf.put(one)
    }
    this.options.answered(save, answer)
    return true
  }

  private refuse(save: Save, problem: Problem): void {
    save.refused = { message: problem.message, stale: problem.stale }
    if (this.waiting.some((one) => samePlace(one, save))) this.drop(save)
    else this.shelf.put(save)
    this.tell()
    this.options.refused(save)
  }

  private drop(save: Save): void {
    this.saves = this.saves.filter((one) => one !== save)
    this.shelf.drop(save)
    this.tell()
  }

  private tell(state = this.state): void {
    this.state = state
    this.options.changed(state)
  }
}

/** Where saves wait: a record each, so that two tabs never write over each other's. */
class Shelf {
  /** What a full or closed storage did not take, and only this page holds. */
  private readonly inPage = new Set<string>()

  constructor(private readonly prefix: string) {}

  get unkept(): number {
    return this.inPage.size
  }

  all(): Save[] {
    const keys = Object.keys(localStorage).filter((key) => key.startsWith(this.prefix))
    return keys.sort().flatMap((key) => read(localStorage.getItem(key)))
  }

  has(save: Save): boolean {
    return this.inPage.has(save.id) || localStorage.getItem(this.prefix + save.id) !== null
  }

  put(save: Save): void {
    try {
      localStorage.setItem(this.prefix + save.id, JSON.stringify(save))
      this.inPage.delete(save.id)
    } catch {
      this.inPage.add(save.id)
    }
  }

  drop(save: Save): void {
    this.inPage.delete(save.id)
    localStorage.removeItem(this.prefix + save.id)
  }
}

function read(record: string | null): Save[] {
  try {
    // Kept before attempts had numbers, it is of the first.
    const save = JSON.parse(record ?? '') as Partial<Save> & Omit<Save, 'attempt'>
    return [{ ...save, attempt: save.attempt ?? 1 }]
  } catch {
    return []
  }
}

let made = 0
function nextId(): string {
  made += 1
  const inOrder = `${deviceTime()}.${String(made).padStart(6, '0')}`
  return `${inOrder}.${Math.random().toString(36).slice(2, 8)}`
}

function sameMark(one: Save, other: Save): boolean {
  const same = one.taskId === other.taskId && one.studentId === other.studentId
  return same && one.attempt === other.attempt
}

function samePlace(one: Save, other: Save): boolean {
  if (isTap(one)) return false
  const same = one.kind === other.kind && one.criterionId === other.criterionId
  return same && sameMark(one, other) && one.passage?.key === other.passage?.key
}
