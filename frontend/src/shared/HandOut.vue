<script setup lang="ts">
import LinkButton from '@/design/controls/LinkButton.vue'
import { sheetPage, type SheetKind, type WallPart } from '@/shared/sheets'

/** The way from a screen to its sheet, to be printed or downloaded. */
defineProps<{ what: SheetKind; classId: number; thing?: number; part?: WallPart }>()
</script>

<template>
  <LinkButton bare :to="sheetPage(what, classId, thing, part)">Print or CSV</LinkButton>
</template>
