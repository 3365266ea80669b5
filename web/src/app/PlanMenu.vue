<script setup lang="ts">
import { ElMessageBox } from 'element-plus/es/components/message-box/index'
import 'element-plus/es/components/message-box/style/css'
import type { Plan } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { choose, edit, useSession } from '@/shared/session/session'

/** Plans: pick, copy, rename, remove. A copy knows what it is based on. */
const emit = defineEmits<{ done: [] }>()
const { state, plan, pair } = useSession()

function pick(id: string) {
  emit('done')
  void choose({ plan: id })
}

async function ask(title: string, value: string): Promise<string | null> {
  emit('done')
  try {
    const result = await ElMessageBox.prompt('', title, {
      inputValue: value,
      inputPattern: /^.{1,80}$/,
      inputErrorMessage: 'Enter a name of 1 to 80 characters.',
      confirmButtonText: 'Save',
      cancelButtonText: 'Cancel',
    })
    return (result as { value: string }).value
  } catch {
    return null // cancelled
  }
}

async function copy(from: Plan) {
  const name = await ask('Copy’s name', `${from.name}, copy`)
  if (!name) return
  const id = freshId(name, [...(state.value?.plans ?? []), ...(state.value?.outages ?? [])])
  const value: Plan = { ...structuredClone(from), id, name, based_on: from.id, status: 'draft' }
  edit(`New plan: ${name}`, [{ doc: id, op: 'add', path: '', kind: 'plan', value }])
  await choose({ plan: id })
}

async function rename(which: Plan) {
  const name = await ask('Plan name', which.name)
  if (!name || name === which.name) return
  edit(`${which.name} renamed ${name}`, [{ doc: which.id, op: 'replace', path: '/name', value: name }])
}

function remove(which: Plan) {
  emit('done')
  const other = state.value?.plans.find((p) => p.id !== which.id)
  edit(`Plan removed: ${which.name}`, [{ doc: which.id, op: 'remove', path: '', kind: 'plan' }])
  if (other) void choose({ plan: other.id })
}
</script>

<template>
  <ul class="list">
    <li v-for="p in state?.plans ?? []" :key="p.id">
      <el-button :class="{ now: p.id === pair.plan }" @click="pick(p.id)">{{ p.name }}</el-button>
      <span class="soft small">{{ p.status }}</span>
    </li>
  </ul>
  <div v-if="plan" class="acts">
    <el-button class="btn tiny" @click="copy(plan)">Copy this plan</el-button>
    <el-button class="btn tiny" @click="rename(plan)">Rename</el-button>
    <el-button v-if="(state?.plans.length ?? 0) > 1" class="btn tiny" @click="remove(plan)">Remove</el-button>
  </div>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
</style>
