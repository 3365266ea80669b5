<script setup lang="ts">
import { ref } from 'vue'

/** Everything that is kept, as one file; sealed under a passphrase where one is given. */
const passphrase = ref('')
const busy = ref(false)
const problem = ref('')
const done = ref('')

async function backUp() {
  busy.value = true
  problem.value = done.value = ''
  try {
    const sent = await fetch('/api/backup', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ passphrase: passphrase.value }),
    })
    if (!sent.ok) throw new Error(((await sent.json()) as { sentence: string }).sentence)
    const name = /filename="([^"]+)"/.exec(sent.headers.get('content-disposition') ?? '')?.[1] ?? 'imbuto.zip'
    const link = document.createElement('a')
    link.href = URL.createObjectURL(await sent.blob())
    link.download = name
    link.click()
    URL.revokeObjectURL(link.href)
    done.value = `${name} was made and checked.`
    passphrase.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section aria-label="Keep it safe">
    <h2>Keep it safe</h2>
    <p class="soft">
      All homes with their logs, undo and files, as one file. The file has health details and times when no one is home.
      Keep it where only you can read it, or seal it. <code>imbuto restore</code> restores it. The data folder also has
      copies of the last seven days.
    </p>
    <form novalidate @submit.prevent="backUp">
      <el-input
        v-model="passphrase"
        type="password"
        show-password
        autocomplete="new-password"
        aria-label="Passphrase (optional)"
        placeholder="optional, to seal the file"
      />
      <el-button native-type="submit" class="btn" :disabled="busy">{{
        busy ? 'Backing up…' : 'Back up everything'
      }}</el-button>
    </form>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <p v-if="done" role="status">{{ done }}</p>
  </section>
</template>

<style scoped>
section {
  margin-top: 36px;
  padding-top: 14px;
  border-top: 1px solid var(--line);
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
form .el-input {
  flex: 0 1 280px;
}
</style>
