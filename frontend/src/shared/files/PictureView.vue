<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useObjectUrl } from '@vueuse/core'
import { computed, ref, toRef, watch } from 'vue'
import ShapeLayer from '@/shared/passages/ShapeLayer.vue'

/** A picture with zoom and rotation; it begins as wide as there is room. */
const props = defineProps<{ file: Blob; name: string; partId?: number }>()
const emit = defineEmits<{ broken: [] }>()
const address = useObjectUrl(toRef(props, 'file'))
const zoom = ref(1)
const turned = ref(0)
const sideways = computed(() => turned.value % 180 !== 0)
const size = ref({ width: 1, height: 1 })
watch(address, () => ((zoom.value = 1), (turned.value = 0)))
const percent = computed(() => Math.round(zoom.value * 100))

function measure(event: Event) {
  const { naturalWidth, naturalHeight } = event.target as HTMLImageElement
  size.value = { width: naturalWidth, height: naturalHeight }
}
/** The turned picture takes the room of its turned sides. */
const frame = computed(() => {
  const { width, height } = size.value
  const ratio = sideways.value ? width / height : height / width
  return { width: `${percent.value}%`, aspectRatio: `1 / ${ratio}` }
})
const picture = computed(() => {
  const { width, height } = size.value
  const wide = sideways.value ? `${(width / height) * 100}%` : '100%'
  return { width: wide, transform: `translate(-50%, -50%) rotate(${turned.value}deg)` }
})
</script>

<template>
  <div>
    <p class="row tools" role="group" aria-label="Picture">
      <NButton size="small" aria-label="Smaller" @click="zoom = Math.max(0.25, zoom / 1.25)"
        >−</NButton
      >
      <span class="small quiet percent" role="status">{{ percent }}%</span>
      <NButton size="small" aria-label="Larger" @click="zoom = Math.min(8, zoom * 1.25)">+</NButton>
      <NButton size="small" @click="((zoom = 1), (turned = 0))">Fit</NButton>
      <NButton size="small" @click="turned = (turned + 90) % 360">Rotate</NButton>
    </p>
    <div class="scroll" tabindex="0" :aria-label="name">
      <div class="frame" :style="frame">
        <div class="picture" :style="picture">
          <img v-if="address" :src="address" :alt="name" @load="measure" @error="emit('broken')" />
          <ShapeLayer
            v-if="partId && size.width > 1"
            :part-id="partId"
            :page="1"
            :width="size.width"
            :height="size.height"
          />
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.tools {
  margin-bottom: 8px;
}
.percent {
  min-width: 44px;
  text-align: center;
}
.scroll {
  overflow: auto;
  max-height: 78vh;
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 4px;
}
.frame {
  position: relative;
}
.picture {
  position: absolute;
  top: 50%;
  left: 50%;
}
img {
  display: block;
  width: 100%;
  height: auto;
}
</style>
