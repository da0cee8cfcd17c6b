<script setup lang="ts">
import { NButton } from 'naive-ui'
import type { RouteLocationRaw } from 'vue-router'

/** A link to another page that looks like a button. */
defineOptions({ inheritAttrs: false })
defineProps<{ to: RouteLocationRaw; main?: boolean; bare?: boolean }>()
</script>

<template>
  <RouterLink v-slot="{ href, navigate }" custom :to="to">
    <NButton
      tag="a"
      :href="href"
      :type="main ? 'primary' : 'default'"
      :quaternary="bare"
      v-bind="$attrs"
      @click="navigate"
    >
      <slot />
    </NButton>
  </RouterLink>
</template>
