<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import FileField from '@/shared/FileField.vue'
import { several } from '@/shared/format'

/** Systems from a list: looked at line by line first, then brought in; sent again it changes nothing. */
const text = ref('')
const name = ref('')
const lines = ref<Schemas['ListLine'][] | null>(null)
const done = ref<Schemas['Brought'] | null>(null)
const look = useAction(async (file: File) => {
  done.value = null
  lines.value = null
  name.value = file.name
  text.value = await file.text()
  lines.value = await ask(api.POST('/api/v1/systems/list/look', { body: { text: text.value } }))
}, [])
const bring = useAction(async () => {
  done.value = await ask(api.POST('/api/v1/systems/list', { body: { text: text.value } }))
  lines.value = null
})
const useful = computed(() => (lines.value ?? []).filter((one) => one.state.startsWith('to be')).length)
function chosen([file]: File[]) {
  if (file) void look.go(file)
}
</script>

<template>
  <section class="stack tight">
    <h2>Bring in a list</h2>
    <p class="quiet">
      A CSV file with a column for system and access; owner (mail address), test system and note if known.
      What is taken out above comes in again.
    </p>
    <p><FileField words="Choose a file" label="List of systems" accept=".csv,text/csv" @chosen="chosen" /></p>
    <Problem :error="look.error.value ?? bring.error.value" />
    <p v-if="done" class="note">
      {{ done.entered }} entered, {{ done.changed }} changed, {{ done.here }} here already,
      {{ done.left_out }} left out.
    </p>
    <template v-if="lines">
      <table class="ledger">
        <thead>
          <tr>
            <th class="num">Line</th>
            <th>System</th>
            <th>What happens</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in lines" :key="one.line">
            <td class="num">{{ one.line }}</td>
            <td>{{ one.name }}</td>
            <td>
              {{ one.state }}
              <div v-for="fault in one.faults" :key="fault" class="bad">{{ fault }}</div>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="row">
        <el-button :disabled="!useful || bring.busy.value" type="primary" @click="bring.go()">
          Bring in {{ several(useful, 'line', 'lines') }}
        </el-button>
        <el-button @click="lines = null">Cancel</el-button>
        <span v-if="!useful" class="quiet">No line of {{ name }} would change anything.</span>
      </p>
    </template>
  </section>
</template>
