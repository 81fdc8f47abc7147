<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { size } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import FileField from '@/shared/FileField.vue'

/** The wheels that packages may require; hosts install from these alone, never from a network. */
defineProps<{ make: boolean }>()
const query = useQuery({ queryKey: ['packages', 'wheels'], queryFn: () => ask(api.GET('/api/v1/wheels')) })
const kept = ref('')
const keep = useAction(async ([file]: File[]) => {
  if (!file) return
  const form = new FormData()
  form.set('file', file)
  const made = await ask(
    api.POST('/api/v1/wheels', { body: form as unknown as { file: string }, bodySerializer: () => form }),
  )
  kept.value = `${file.name} --hash=sha256:${made.digest}`
})
</script>

<template>
  <section class="stack tight">
    <h2>Wheels that packages may require</h2>
    <p class="quiet">
      A package with a <code>requirements.txt</code>, every line pinned by version and hash, gets exactly
      these in an environment of its own; nothing is fetched from any network.
    </p>
    <p v-if="make">
      <FileField words="Add a wheel" label="Wheel" accept=".whl" @chosen="keep.go" />
    </p>
    <p v-if="kept" class="note" role="status">
      Kept: <code>{{ kept }}</code>
    </p>
    <Problem :error="keep.error.value" />
    <table v-if="query.data.value?.length" class="ledger">
      <tbody>
        <tr v-for="one in query.data.value" :key="one.digest">
          <td>
            {{ one.name }}
            <div class="quiet">sha256:{{ one.digest }}</div>
          </td>
          <td class="num">{{ size(one.size) }}</td>
          <td class="num">
            <When :at="one.at" day />
            <div class="quiet">{{ one.person }}</div>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.file {
  position: absolute;
  opacity: 0;
  width: 1px;
}
code {
  overflow-wrap: anywhere;
}
</style>
