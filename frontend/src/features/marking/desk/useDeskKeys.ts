import { useKeys } from '@/design/keys'

/** What the keys of the desk do; false: nothing, and the key keeps its own meaning. */
type Did = boolean | void
export interface DeskActions {
  choose: (place: number) => Did
  half: () => Did
  notAssessed: () => Did
  clear: () => Did
  /** To another criterion, so many down. */
  go: (by: number) => Did
  /** To another student, so many down. */
  step: (by: number) => Did
  remark: () => Did
  bank: () => Did
  caret: () => Did
  draw: (kind: 'box' | 'arrow') => Did
  undo: () => Did
  leaveWork: () => Did
  way: () => Did
  spread: () => Did
  record: () => Did
  history: () => Did
  fullScreen: () => Did
  newEntry: () => Did
  hide: () => Did
  finish: () => Did
}

/** The keys of the marking desk. */
export function useDeskKeys(act: DeskActions) {
  useKeys('Marking desk', [
    {
      keys: ['1', '2', '3', '4', '5', '6', '7', '8', '9'],
      does: 'Choose a level, 1 the lowest',
      run: (key) => act.choose(Number(key) - 1),
    },
    { keys: ['.'], does: 'Half-way up to the next level', run: act.half },
    { keys: ['0'], does: 'Not assessed', run: act.notAssessed },
    { keys: ['Backspace'], does: 'Clear what is chosen on the criterion', run: act.clear },
    { keys: ['ArrowDown'], does: 'Next criterion', run: () => act.go(1) },
    { keys: ['ArrowUp'], does: 'Criterion before', run: () => act.go(-1) },
    { keys: ['PageDown', ']'], does: 'Next student', run: () => act.step(1) },
    { keys: ['PageUp', '['], does: 'Student before', run: () => act.step(-1) },
    {
      keys: ['c'],
      does: 'Write a remark, on what is selected in the work if something is',
      run: act.remark,
    },
    {
      keys: ['b'],
      does: 'The remark bank: a digit puts a text into the remark; again to search',
      run: act.bank,
    },
    {
      keys: ['Ctrl+b'],
      does: 'The remark bank while writing, also on a passage',
      typing: true,
      run: act.bank,
    },
    { keys: ['t'], does: 'A caret in the work: Shift and arrows select', run: act.caret },
    {
      keys: ['x'],
      does: 'A box on the page: arrows move it, with Shift they size it',
      run: () => act.draw('box'),
    },
    { keys: ['v'], does: 'An arrow on the page, likewise', run: () => act.draw('arrow') },
    { keys: ['Ctrl+z'], does: 'Undo the last change to a passage', run: act.undo },
    { keys: ['Escape'], does: 'Out of the work, back to the levels', run: act.leaveWork },
    {
      keys: ['g'],
      does: 'One criterion at a time, the whole rubric, or one criterion for all students',
      run: act.way,
    },
    { keys: ['s'], does: 'How the levels have fallen so far, and drift', run: act.spread },
    {
      keys: ['r'],
      does: 'Record a spoken remark, on the passage that is open if one is; again to stop',
      run: act.record,
    },
    { keys: ['h'], does: 'The history of this mark', run: act.history },
    { keys: ['f'], does: 'The work in full screen', run: act.fullScreen },
    { keys: ['e'], does: 'A new entry, of other evidence', run: act.newEntry },
    { keys: ['n'], does: 'Hide names until the set is finished, or show them', run: act.hide },
    {
      keys: ['Ctrl+Enter'],
      does: 'Finish and go to the next who waits; one for all: on to the next student',
      typing: true,
      run: act.finish,
    },
  ])
}
