<script setup lang="ts">
import LinkButton from '@/design/controls/LinkButton.vue'
import { sheetPage, type SheetKind } from '@/shared/sheets'

/** The way from a screen to its sheet, to be printed or downloaded. */
defineProps<{ what: SheetKind; classId: number; thing?: number }>()
</script>

<template>
  <LinkButton bare :to="sheetPage(what, classId, thing)">Print or CSV</LinkButton>
</template>
