<script setup lang="ts">
import { ref } from 'vue'

/** A field whose text is given on when it is left, or by Enter; Esc brings back what stands. */
const props = defineProps<{ value: string; label: string }>()
const emit = defineEmits<{ keep: [string] }>()
defineOptions({ inheritAttrs: false })
const draft = ref<string | null>(null)
function keep() {
  const typed = draft.value
  draft.value = null
  if (typed !== null && typed !== props.value) emit('keep', typed)
}
</script>

<template>
  <el-input
    :model-value="draft ?? value"
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
