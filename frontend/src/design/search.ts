/**
 * Searching as files are matched to students (core/names.py, `searchable`): without regard to case,
 * accents, apostrophes and how words are parted, in every script.
 */
const ACCENTS =
  /[\u0300-\u036f\u064b-\u0655\u0670\u1ab0-\u1aff\u1dc0-\u1dff\u20d0-\u20ff\ufe20-\ufe2f]/gu
const APOSTROPHES = /['`´ʹʻʼʽˈ‘’‛′＇]/gu
const LETTERS: Record<string, string> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ł: 'l',
  ħ: 'h',
  ı: 'i',
  ς: 'σ',
}

/** The words of a text as they are searched, parted by a blank. */
export function searchable(text: string): string {
  const plain = text
    .replace(APOSTROPHES, '')
    .normalize('NFKD')
    .replace(ACCENTS, '')
    .toLowerCase()
    .normalize('NFKD')
    .replace(ACCENTS, '')
  const letters = [...plain].map((one) => LETTERS[one] ?? one).join('')
  return letters
    .split(/[^\p{L}\p{N}\p{M}]+/u)
    .filter(Boolean)
    .join(' ')
}

/** Whether texts have every word that is searched for; several words written as one are found, too. */
export function searcher(wanted: string): (...texts: (string | null | undefined)[]) => boolean {
  const words = searchable(wanted).split(' ').filter(Boolean)
  return (...texts) => {
    if (!words.length) return true
    const text = searchable(texts.filter(Boolean).join(' '))
    const glued = text.replaceAll(' ', '')
    return words.every((word) => text.includes(word) || (word.length > 3 && glued.includes(word)))
  }
}
