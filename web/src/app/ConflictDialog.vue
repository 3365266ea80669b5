<script setup lang="ts">
import { computed } from 'vue'
import { settle, useSession } from '@/shared/session/session'

const { conflict } = useSession()
const open = computed({ get: () => !!conflict.value, set: () => undefined })
</script>

<template>
  <el-dialog
    v-model="open"
    title="Changed in another tab"
    width="460"
    :show-close="false"
    :close-on-click-modal="false"
    :close-on-press-escape="false"
  >
    <template v-if="conflict">
      <p>The same thing was changed elsewhere before your change arrived.</p>
      <p>
        There: <strong>{{ conflict.theirs.join('; ') }}</strong><br />
        Here: <strong>{{ conflict.mine.label }}</strong>
      </p>
      <p class="soft">Both changes stay in the history, so undo can bring back either one.</p>
      <div class="form-end">
        <el-button class="btn" @click="settle(false)">Keep theirs</el-button>
        <el-button class="btn strong" @click="settle(true)">Keep mine</el-button>
      </div>
    </template>
  </el-dialog>
</template>
