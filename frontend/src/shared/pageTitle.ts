/** What the browser's tab says: where one is, in which class. */
import { useTitle } from '@vueuse/core'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useRoute } from 'vue-router'
import { useClass } from './classes'

/** Name the page for as long as it is open; what is not known yet is left out. */
export function usePageTitle(title: MaybeRefOrGetter<string | null | undefined>): void {
  const route = useRoute()
  const klass = useClass(() => Number(route.params.classId))
  const parts = () => [toValue(title), klass.value?.name, 'Jade Ladder']
  useTitle(computed(() => parts().filter(Boolean).join(' · ')))
}
