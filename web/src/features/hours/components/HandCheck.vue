<script setup lang="ts">
import { ref } from 'vue'
import type { Run } from '@/shared/api/types'
import { hoursText } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** The same answer by pocket arithmetic. */
defineProps<{ run: Run }>()
const open = ref(false)
</script>

<template>
  <div class="paper">
    <p>
      By hand: <span>{{ run.formula }}</span> =
      <b
        ><Fig v-if="run.paper_hours !== null" :text="hoursText(run.paper_hours)" /><template v-else
          >no end, because nothing uses power</template
        ></b
      >
      ·
      <el-button class="link" :aria-expanded="open" @click="open = !open">
        {{ open ? 'hide' : 'show' }} the hand check
      </el-button>
    </p>
    <template v-if="open">
      <dl>
        <template v-for="f in run.factors" :key="f.name">
          <dt>{{ f.name }}</dt>
          <dd>
            {{ f.shown }} <span v-if="f.evidence !== 'fact'" class="soft small">{{ f.evidence }}</span>
          </dd>
        </template>
      </dl>
    </template>
    <p>{{ run.why }}</p>
  </div>
</template>

<style scoped>
.paper {
  font-size: 13px;
  color: var(--soft);
}
.paper p {
  margin: 0 0 3px;
}
b {
  color: var(--ink);
}
dl {
  display: grid;
  grid-template-columns: max-content max-content;
  gap: 2px 18px;
  margin: 6px 0;
}
dd {
  margin: 0;
  color: var(--ink);
}
</style>
