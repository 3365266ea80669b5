<script setup lang="ts">
import { allShortcuts, lettersOn, setLetters } from '@/shared/shortcuts'

const open = defineModel<boolean>({ required: true })
const shown = (keys: string) => keys.replace('Ctrl', 'Ctrl or ⌘')
</script>

<template>
  <el-dialog v-model="open" title="Keys" width="520">
    <dl class="keys">
      <template v-for="s in allShortcuts()" :key="s.keys">
        <dt>
          <kbd>{{ shown(s.keys) }}</kbd>
        </dt>
        <dd>{{ s.what }}</dd>
      </template>
      <dt><kbd>arrows</kbd></dt>
      <dd>move in a table or over the panel; <kbd>Enter</kbd> edits, <kbd>Esc</kbd> cancels</dd>
    </dl>
    <el-checkbox :model-value="lettersOn" @update:model-value="setLetters(!!$event)">
      Single keys work (those with Ctrl or ⌘ always do)
    </el-checkbox>
  </el-dialog>
</template>

<style scoped>
.keys {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 7px 14px;
  margin: 0 0 16px;
}
dt {
  text-align: right;
}
dd {
  margin: 0;
}
dt:last-of-type + dd {
  grid-column: 2 / -1;
}
dt:last-of-type {
  grid-column: 1;
}
@media (max-width: 560px) {
  .keys {
    grid-template-columns: max-content 1fr;
  }
}
</style>
