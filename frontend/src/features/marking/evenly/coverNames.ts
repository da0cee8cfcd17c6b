import type { WorkPartOut } from '@/api/schema'

/** Cover names: the same for a student at a task until the set is finished, and told to nobody. */

const NAMES = (
  'Auk Basalt Bracken Bunting Cairn Clover Cormorant Cove Curlew Dipper Drift Dulse Dunlin Ebb ' +
  'Eddy Eider Fathom Fern Firth Fulmar Gannet Gorse Granite Grebe Harbour Heather Heron Inlet ' +
  'Juniper Kelp Kestrel Kittiwake Lapwing Lichen Linnet Lobster Marram Merlin Moss Mussel Nettle ' +
  'Osprey Otter Pebble Petrel Pine Pipit Plover Puffin Quartz Reed Rowan Samphire Sandpiper ' +
  'Scoter Sedge Shale Shoal Skerry Slate Sorrel Spindrift Swell Teal Tern Thrift Thyme Urchin ' +
  'Whelk Wren Yarrow'
).split(' ')

/** Spread numbers so that neighbours are far apart. */
function scattered(task: number, student: number): number {
  let mixed = Math.imul(task, 0x9e3779b1) ^ Math.imul(student, 0x85ebca6b)
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x2c1b3c6d)
  mixed = Math.imul(mixed ^ (mixed >>> 12), 0x297a2d39)
  return (mixed ^ (mixed >>> 15)) >>> 0
}

/** A cover name for each of some students at a task; who comes later changes nobody's. */
export function coverNames(task: number, students: readonly number[]): Map<number, string> {
  const taken = new Set<string>()
  const found = new Map<number, string>()
  for (const student of [...students].sort((a, b) => a - b)) {
    const from = scattered(task, student) % NAMES.length
    let name = ''
    for (let round = 1; !name; round++) {
      for (let step = 0; step < NAMES.length && !name; step++) {
        const word = NAMES[(from + step) % NAMES.length]!
        const one = round === 1 ? word : `${word} ${round}`
        if (!taken.has(one)) name = one
      }
    }
    taken.add(name)
    found.set(student, name)
  }
  return found
}

/** Parts of work without the names of their files, which often say whose they are. */
export function withoutNames(parts: WorkPartOut[]): WorkPartOut[] {
  return parts.map((part, at) => {
    const ending = /\.[a-z0-9]{1,5}$/i.exec(part.file_name ?? '')?.[0] ?? ''
    return part.file_name === null ? part : { ...part, file_name: `Part ${at + 1}${ending}` }
  })
}
