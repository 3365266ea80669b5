<script setup lang="ts">
import { computed, ref } from 'vue'

/** A field whose text is given on, trimmed, when it is left, or by Enter; Esc brings back what stands. Nothing is written over what is typed. */
const props = defineProps<{ value: string | number | null; label?: string }>()
const emit = defineEmits<{ keep: [string] }>()
defineOptions({ inheritAttrs: false })
const draft = ref<string | null>(null)
const stands = computed(() => String(props.value ?? ''))
function keep() {
  const typed = draft.value?.trim()
  draft.value = null
  if (typed !== undefined && typed !== stands.value) emit('keep', typed)
}
</script>

<template>
  <el-input
    :model-value="draft ?? stands"
    :aria-label="label"
    autocomplete="off"
    v-bind="$attrs"
    @update:model-value="(v: string) => (draft = v)"
    @change="keep"
    @keydown.esc="draft = null"
  >
    <template v-if="$slots.suffix" #suffix><slot name="suffix" /></template>
  </el-input>
</template>
