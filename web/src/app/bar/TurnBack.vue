<script setup lang="ts">
import { computed } from 'vue'
import { redo, undo, useSession } from '@/shared/session/session'
import { setTheme, theme } from '@/shared/theme'

/** What can be taken back, and by which light it is read. */
defineEmits<{ sheet: []; help: [] }>()
const { state, waiting } = useSession()
const busy = computed(() => waiting.value.length > 0)
</script>

<template>
  <div class="turns">
    <el-button class="turn" :disabled="!state?.undo || busy" :title="state?.undo ?? ''" @click="undo">
      <b>Undo</b> <span>{{ state?.undo ?? 'nothing yet' }}</span>
    </el-button>
    <el-button class="turn" :disabled="!state?.redo || busy" :title="state?.redo ?? ''" @click="redo">
      <b>Redo</b> <span>{{ state?.redo ?? 'nothing' }}</span>
    </el-button>
    <div class="pairs">
      <el-button class="plain" @click="setTheme(theme === 'lamp' ? 'paper' : 'lamp')">
        {{ theme === 'lamp' ? 'Paper' : 'Lamp' }}
      </el-button>
      <el-button class="plain" @click="$emit('help')">Help</el-button>
      <el-button class="plain keys" @click="$emit('sheet')">Keys <kbd>?</kbd></el-button>
    </div>
  </div>
</template>

<style scoped>
.turns {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
}
.turn {
  display: flex;
  gap: 7px;
  padding: 4px 8px;
  border: 0;
  border-radius: 6px;
  background: none;
  color: var(--on-deep);
  font-size: 12.5px;
  text-align: left;
}
.turn span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--on-deep-soft);
}
.turn:hover:not(:disabled),
.plain:hover {
  background: var(--deep-band);
}
.turn:disabled {
  cursor: default;
  color: var(--on-deep-soft);
}
.pairs {
  display: flex;
  justify-content: space-between;
  margin-top: 4px;
}
.plain {
  padding: 4px 8px;
  border: 0;
  border-radius: 6px;
  background: none;
  color: var(--on-deep);
}
.plain kbd {
  background: transparent;
  color: inherit;
}
.turn:focus-visible,
.plain:focus-visible {
  outline-color: var(--gain);
}
@media (max-width: 760px) {
  .turn,
  .plain {
    min-height: 44px;
    align-items: center;
    font-size: 14px;
  }
  .keys {
    display: none;
  }
}
</style>
