import { computed } from 'vue'
import { useSession } from './session'

type Sorted = { sort_name: string; left_on?: string | null }

/** Sorting names by the rules of the school's language: the one place that sorts them. */
export function useNameOrder() {
  const { data: session } = useSession()
  const collator = computed(
    () => new Intl.Collator(session.value?.language ?? 'en', { numeric: true }),
  )
  return {
    /** By name, and those who have left after the others. */
    byName: <One extends Sorted>(people: readonly One[]): One[] =>
      [...people].sort(
        (a, b) =>
          Number(Boolean(a.left_on)) - Number(Boolean(b.left_on)) ||
          collator.value.compare(a.sort_name, b.sort_name),
      ),
  }
}

/** Languages to choose from, by their codes. */
const CODES =
  'ar az bg bn bs ca cs cy da de el en es et eu fa fi fil fr ga gl gu he hi hr hu hy id is it ja ' +
  'ka kk km kn ko ky lo lt lv mi mk ml mn mr ms mt my nb ne nl nn pa pl pt ro ru se si sk sl sm ' +
  'so sq sr sv sw ta te th to tr uk ur uz vi yo zh zu'

/** The languages by name, and the one that the browser is in. */
export function languages(): { code: string; name: string }[] {
  const names = new Intl.DisplayNames('en', { type: 'language' })
  return CODES.split(' ')
    .map((code) => ({ code, name: names.of(code) ?? code }))
    .sort((a, b) => a.name.localeCompare(b.name))
}

export function browserLanguage(): string {
  const code = navigator.language.split('-')[0] ?? 'en'
  return CODES.split(' ').includes(code) ? code : 'en'
}
