<script setup lang="ts">
import { computed, ref } from 'vue'
import { inUse, parseMeasure, unitOf, type Kind } from '@/shared/units/measures'
import KeptInput from './KeptInput.vue'

/** A figure that people write in two measures: shown in the home's, taken in either, kept metric. */
const props = withDefaults(
  defineProps<{ kind: Kind; value: number | null; label: string; least?: number; most?: number; empty?: boolean }>(),
  { least: -Infinity, most: Infinity },
)
const emit = defineEmits<{ keep: [number | null] }>()
const wrong = ref('')
const text = computed(() => (props.value === null ? '' : String(inUse(props.kind, props.value))))
function keep(typed: string) {
  wrong.value = ''
  if (!typed.trim() && props.empty) return emit('keep', null)
  const read = parseMeasure(props.kind, typed)
  if (!read.ok) wrong.value = read.why
  else if (read.value < props.least - 1e-6 || read.value > props.most + 1e-6) {
    const [low, high] = [inUse(props.kind, props.least), inUse(props.kind, props.most)]
    wrong.value = `From ${low} to ${high} ${unitOf(props.kind)} is possible.`
  } else if (read.value !== props.value) emit('keep', read.value)
}
</script>

<template>
  <span class="measure">
    <KeptInput :value="text" :label="`${label}, ${unitOf(kind)}`" inputmode="text" v-bind="$attrs" @keep="keep">
      <template #suffix>{{ unitOf(kind) }}</template>
    </KeptInput>
    <small v-if="wrong" role="alert">{{ wrong }}</small>
  </span>
</template>

<style scoped>
.measure {
  display: inline-grid;
}
.measure :deep(.el-input__suffix),
.measure :deep(.el-input__suffix-inner) {
  color: var(--soft);
  transition: none;
}
small {
  color: var(--dark);
}
</style>
