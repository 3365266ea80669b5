<script setup lang="ts">
import { useSession } from '@/shared/session/session'
import { notOpened } from '@/app/router'

const { offline, problem, waiting } = useSession()
</script>

<template>
  <div class="strips" aria-live="polite">
    <p v-if="offline" class="strip" role="status">
      The server isn’t responding.
      {{
        waiting.length
          ? `${waiting.length} ${waiting.length === 1 ? 'change is' : 'changes are'} kept here and will be sent when it does.`
          : 'Trying again; nothing is lost.'
      }}
    </p>
    <p v-if="notOpened" class="strip problem" role="alert">{{ notOpened }}</p>
    <p v-if="problem" class="strip problem" role="alert">
      <span>{{ problem }} Nothing was changed.</span>
      <el-button class="link" @click="problem = ''">Close</el-button>
    </p>
  </div>
</template>

<style scoped>
/* Above the page and not over it: what it would hide may be the way out. */
.strips:not(:empty) {
  flex: none;
  z-index: 30;
  padding: 8px 26px 0;
}
.strip {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  margin: 0 0 6px;
  padding: 9px 14px;
  border: 1px solid var(--line-strong);
  border-left: 6px solid var(--ink);
  border-radius: 8px;
  background: var(--sheet);
  box-shadow: var(--shadow);
}
.problem {
  border-left-color: var(--dark);
}
@media (max-width: 760px) {
  .strips {
    position: sticky;
    top: 0;
    inset-inline: 0;
  }
}
</style>
