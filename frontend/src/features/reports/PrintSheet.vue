<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { dayInWords } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { partOf, sheetAddress, type SheetKind } from '@/shared/sheets'

/** A sheet as it is printed: title, class and day, and a table whose headings are on every page. */
const props = defineProps<{ classId: number; what: string; thing: number }>()
const route = useRoute()
const router = useRouter()
const address = computed(() => sheetAddress(props.what as SheetKind, props.classId, props.thing))
/** What of it is on the sheet, in the words of the API. */
const part = computed(() => partOf(route.query))
const csv = (comma: boolean) => {
  const query = new URLSearchParams(part.value)
  if (comma) query.append('comma', 'true')
  return `${address.value}.csv${query.size ? `?${query}` : ''}`
}
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.sheet(`${address.value}?${new URLSearchParams(part.value)}`),
  // Every sheet has the same shape; which one it is, is in the address.
  query: () =>
    ask(
      api.GET(address.value as '/api/classes/{class_id}/sheets/mastery', {
        params: { path: { class_id: props.classId } },
        querySerializer: () => new URLSearchParams(part.value).toString(),
      }),
    ),
  gcTime: 0,
})
/** Columns of numbers stand at the right, their headings too. */
const numbers = computed(
  () => data.value?.headings.map((_, at) => data.value!.rows.some((row) => row[at]?.number)) ?? [],
)
const print = () => window.print()
usePageTitle(() => data.value && `${data.value.title}, ${data.value.of}`)
</script>

<template>
  <div class="page sheet-page">
    <div class="row tools no-print">
      <NButton quaternary @click="router.back()">Back</NButton>
      <NButton type="primary" :disabled="!data" @click="print">Print</NButton>
      <NButton tag="a" :href="csv(false)" download>Download CSV</NButton>
      <NButton tag="a" :href="csv(true)" download>CSV with decimal comma</NButton>
    </div>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <article v-else class="sheet" :class="{ wide: data.wide }" dir="auto">
      <header>
        <h1>{{ data.title }}</h1>
        <p>
          <b>{{ data.of }}</b> · {{ dayInWords(data.day) }}
        </p>
        <p v-if="data.note" class="small">{{ data.note }}</p>
      </header>
      <p v-if="!data.rows.length" class="quiet">There is nothing on this sheet yet.</p>
      <div v-else class="scroll" tabindex="0" role="region" :aria-label="data.title">
        <table>
          <thead>
            <tr>
              <th
                v-for="(heading, at) in data.headings"
                :key="at"
                scope="col"
                :class="{ num: numbers[at] }"
              >
                {{ heading }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, line) in data.rows" :key="line">
              <component
                :is="at ? 'td' : 'th'"
                v-for="(cell, at) in row"
                :key="at"
                :scope="at ? undefined : 'row'"
                :class="{ num: numbers[at], mastered: cell.mastered }"
                >{{ cell.text
                }}<span v-if="numbers[at]" class="tick">{{
                  cell.mastered ? '✓' : ''
                }}</span></component
              >
            </tr>
          </tbody>
        </table>
      </div>
      <ul v-if="data.key.length" class="key small" aria-label="What the codes stand for">
        <li v-for="line in data.key" :key="line">{{ line }}</li>
      </ul>
    </article>
  </div>
</template>

<style>
/* Paper of either size: only how it lies is said. */
@page {
  margin: 14mm 12mm;
}
@page wide {
  size: landscape;
  margin: 12mm 10mm;
}
</style>

<style scoped>
.tools {
  flex-wrap: wrap;
  margin-bottom: 18px;
}
.sheet {
  background: var(--card);
  border: 1px solid var(--line);
  padding: 24px;
}
header {
  margin-bottom: 12px;
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 13px;
}
th,
td {
  border-bottom: 1px solid var(--line);
  padding: 4px 7px;
  text-align: start;
  vertical-align: top;
  font-weight: 400;
}
/* A name of any length leaves the other columns on the paper. */
tbody th {
  min-width: 110px;
  overflow-wrap: anywhere;
}
thead th {
  font-weight: 650;
  border-bottom: 1px solid var(--ink);
  vertical-align: bottom;
}
.key {
  columns: 18rem auto;
  column-gap: 24px;
  list-style: none;
  margin: 14px 0 0;
  padding: 0;
}
.key li {
  break-inside: avoid;
  padding: 1px 0;
}
.num {
  text-align: end;
  white-space: nowrap;
}
.tick {
  display: inline-block;
  width: 1.2em;
}
thead .num {
  padding-inline-end: calc(7px + 1.2em);
}
.mastered {
  font-weight: 650;
}
@media print {
  .sheet-page,
  .sheet {
    border: 0;
    padding: 0;
    background: none;
    color: #000;
  }
  .sheet.wide {
    page: wide;
  }
  .scroll {
    overflow: visible;
  }
  table {
    font-size: 9pt;
  }
  thead {
    display: table-header-group;
  }
  tr {
    break-inside: avoid;
  }
  th,
  td {
    border-color: #999;
    padding: 2pt 3pt;
  }
}
</style>
