<script setup lang="ts" generic="T extends string | number">
/** One of several, on the library's select. Stands inside a label or carries its own; options are el-option. */
defineProps<{ modelValue: T | null | undefined; label?: string }>()
const emit = defineEmits<{ 'update:modelValue': [T]; change: [T] }>()
defineOptions({ inheritAttrs: false })
function chosen(value: T) {
  emit('update:modelValue', value)
  emit('change', value)
}
</script>

<template>
  <!-- A label hands every click on to its field, which would open the list and close it again. -->
  <span class="choice" :class="$attrs.class" @click.prevent>
    <el-select
      :model-value="modelValue"
      :aria-label="label"
      :empty-values="[undefined]"
      v-bind="{ ...$attrs, class: undefined }"
      @update:model-value="chosen"
    >
      <slot />
    </el-select>
  </span>
</template>

<style scoped>
/* As a rule, which any place may better. */
:where(.choice) {
  display: inline-block;
  width: 13em;
  max-width: 100%;
  vertical-align: middle;
}
</style>
