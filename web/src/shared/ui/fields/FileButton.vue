<script setup lang="ts">
import type { UploadFile } from 'element-plus'

/** A button that asks for one file, on the library's upload; the file is only handed over. */
defineProps<{ accept: string; disabled?: boolean; tiny?: boolean; strong?: boolean; of?: string }>()
const emit = defineEmits<{ file: [File] }>()
const given = (file: UploadFile) => file.raw && emit('file', file.raw)
</script>

<template>
  <el-upload
    class="file"
    :auto-upload="false"
    :show-file-list="false"
    :accept="accept"
    :disabled="disabled"
    :on-change="given"
  >
    <span class="btn" :class="{ tiny, strong }" :aria-disabled="disabled"
      ><slot /><span v-if="of" class="sr">{{ ` of ${of}` }}</span></span
    >
  </el-upload>
</template>

<style scoped>
.file {
  display: inline-flex;
}
</style>
