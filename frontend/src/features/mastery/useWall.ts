import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'
import { api, ask } from '@/api/client'
import { useNameOrder } from '@/shared/order'
import { keys } from '@/shared/queries'
import { columnsOf, rowsOf, shownRows, type Shown, type WallView } from './wall'

/** The wall of a class as of a day, as it is looked at. */
export function useWall(
  classId: MaybeRefOrGetter<number>,
  asOf: MaybeRefOrGetter<string>,
  view: MaybeRefOrGetter<WallView>,
) {
  const query = useQuery({
    key: () => keys.wall(toValue(classId), toValue(asOf)),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/mastery', {
          params: {
            path: { class_id: toValue(classId) },
            query: toValue(asOf) ? { as_of: toValue(asOf) } : {},
          },
        }),
      ),
    placeholderData: (before) => before,
  })
  const { byName } = useNameOrder()
  const all = computed(() => {
    const wall = query.data.value
    if (!wall) return []
    const rowOf = new Map(rowsOf(wall).map((row) => [row.student.id, row]))
    return byName(wall.students).map((student) => rowOf.get(student.id)!)
  })
  const columns = computed(() =>
    query.data.value ? columnsOf(query.data.value, toValue(view)) : [],
  )
  const rows = computed(() => shownRows(all.value, columns.value, toValue(view)))
  return { ...query, all, rows, columns }
}

const numbers = (text: unknown): number[] =>
  typeof text === 'string' ? text.split('.').map(Number).filter(Boolean) : []
const text = (value: unknown) => (typeof value === 'string' ? value : '')
const SHOWN: Shown[] = ['ladder', 'value', 'direction', 'pieces']

/** How the wall is looked at, kept in the address, so that a link shows the same. */
export function useWallView() {
  const route = useRoute()
  const router = useRouter()
  const view = computed<WallView>(() => {
    const query = route.query
    const shown = text(query.show) as Shown
    return {
      sort: text(query.sort) || 'name',
      sign: text(query.sign),
      on: Number(query.on) || null,
      name: text(query.name),
      strand: Number(query.strand) || null,
      hidden: numbers(query.hide),
      folded: numbers(query.fold),
      show: SHOWN.includes(shown) ? shown : 'ladder',
      dense: query.dense === '1',
    }
  })
  function change(to: Partial<WallView>) {
    const next = { ...view.value, ...to }
    const query: LocationQueryRaw = {
      ...route.query,
      sort: next.sort === 'name' ? undefined : next.sort,
      sign: next.sign || undefined,
      on: (next.sign && next.on) || undefined,
      name: next.name || undefined,
      strand: next.strand ?? undefined,
      hide: next.hidden.join('.') || undefined,
      fold: next.folded.join('.') || undefined,
      show: next.show === 'ladder' ? undefined : next.show,
      dense: next.dense ? '1' : undefined,
    }
    void router.replace({ query })
  }
  return { view, change }
}
