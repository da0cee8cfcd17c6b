/** Saves that wait: kept in the browser until the server has them, sent one after the other. */
import { asProblem, type Problem } from '@/api/client'

export interface Save {
  taskId: number
  studentId: number
  kind: 'choice' | 'remark' | 'finish'
  /** null: the remark on the whole. */
  criterionId: number | null
  level_id: number | null
  half_way: boolean
  not_assessed: boolean
  text: string
  /** The version of the mark that was seen when it was made. */
  version: number
}

export type SaveState = 'idle' | 'saving' | 'gone'

export interface SaveQueueOptions<Answer> {
  storageKey: string
  send: (save: Save) => Promise<Answer>
  versionOf: (answer: Answer) => number
  answered: (save: Save, answer: Answer, more: boolean) => void
  refused: (save: Save, problem: Problem) => void
  changed: (state: SaveState, waiting: number) => void
  retryAfter?: number
}

/**
 * A queue that survives the page: what the server has not answered stays in local storage. A
 * server that is gone is asked again; a refusal is handed back and the rest goes on.
 */
export class SaveQueue<Answer> {
  private waiting: Save[]
  private running = false
  private timer: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly options: SaveQueueOptions<Answer>) {
    this.waiting = read(options.storageKey)
  }

  /** What is not yet known to be saved, oldest first. */
  get saves(): readonly Save[] {
    return this.waiting
  }

  /** Add a save; one for the same place that is not on its way yet is replaced by it. */
  add(save: Save): void {
    const from = this.running ? 1 : 0
    const same = this.waiting.findIndex(
      (one, index) => index >= from && save.kind !== 'finish' && samePlace(one, save),
    )
    if (same >= 0) this.waiting.splice(same, 1)
    this.waiting.push(save)
    this.keep()
    void this.run()
  }

  /** Send what waits, now. */
  async run(): Promise<void> {
    if (this.running) return
    clearTimeout(this.timer)
    this.running = true
    while (this.waiting[0]) {
      this.options.changed('saving', this.waiting.length)
      if (!(await this.sendFirst(this.waiting[0]))) {
        this.running = false
        this.options.changed('gone', this.waiting.length)
        this.timer = setTimeout(() => void this.run(), this.options.retryAfter ?? 3000)
        return
      }
    }
    this.running = false
    this.options.changed('idle', 0)
  }

  /** Stop asking again; what waits stays in the browser. */
  stop(): void {
    clearTimeout(this.timer)
  }

  private async sendFirst(save: Save): Promise<boolean> {
    let answer: Answer
    try {
      answer = await this.options.send(save)
    } catch (error) {
      const problem = asProblem(error)
      if (problem.gone) return false
      this.waiting.shift()
      this.keep()
      this.options.refused(save, problem)
      return true
    }
    this.waiting.shift()
    for (const one of this.waiting) {
      if (sameMark(one, save)) one.version = Math.max(one.version, this.options.versionOf(answer))
    }
    this.keep()
    this.options.answered(
      save,
      answer,
      this.waiting.some((one) => sameMark(one, save)),
    )
    return true
  }

  private keep(): void {
    if (this.waiting.length) {
      localStorage.setItem(this.options.storageKey, JSON.stringify(this.waiting))
    } else {
      localStorage.removeItem(this.options.storageKey)
    }
  }
}

function read(key: string): Save[] {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '[]') as Save[]
  } catch {
    return []
  }
}

function sameMark(one: Save, other: Save): boolean {
  return one.taskId === other.taskId && one.studentId === other.studentId
}

function samePlace(one: Save, other: Save): boolean {
  return sameMark(one, other) && one.kind === other.kind && one.criterionId === other.criterionId
}
