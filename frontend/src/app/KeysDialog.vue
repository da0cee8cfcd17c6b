<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { scopes, singleKeys } from '@/design/keys'
import Modal from '@/design/telling/Modal.vue'

const show = defineModel<boolean>('show', { required: true })
const NAMES: Record<string, string> = {
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  PageUp: 'Page Up',
  PageDown: 'Page Down',
}

function written(key: string): string {
  const parts = key.split('+').filter(Boolean)
  return parts
    .map((part) => NAMES[part] ?? (part.length === 1 ? part.toUpperCase() : part))
    .join(' ')
}
</script>

<template>
  <Modal v-model:show="show" title="Keys that work here">
    <section v-for="scope in [...scopes].reverse()" :key="scope.name">
      <h3>{{ scope.name }}</h3>
      <dl>
        <template v-for="shortcut in scope.shortcuts" :key="shortcut.does">
          <dt>
            <kbd v-for="key in shortcut.keys" :key="key">{{ written(key) }}</kbd>
          </dt>
          <dd>{{ shortcut.does }}</dd>
        </template>
      </dl>
    </section>
    <NCheckbox v-model:checked="singleKeys">Keys of one letter or digit act</NCheckbox>
    <p class="small quiet">They never act while you type. Switched off, only keys with Ctrl act.</p>
  </Modal>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: minmax(110px, auto) 1fr;
  gap: 5px 14px;
  margin: 6px 0 14px;
}
dt {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}
dd {
  margin: 0;
}
</style>
