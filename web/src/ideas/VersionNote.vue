<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** What a change is for, the button that makes it a version, and the versions so far. */
const props = defineProps<{
  version: number
  versions: Schemas['VersionRow'][]
  changed: boolean
  busy: boolean
  error: unknown
  fields?: string[]
}>()
const emit = defineEmits<{ keep: []; leave: [] }>()
const note = defineModel<string>({ required: true })
const next = computed(() => props.version + 1)
</script>

<template>
  <div class="stack tight">
    <form v-if="changed" class="note stack tight" @submit.prevent="emit('keep')">
      <Field v-slot="{ id }" label="What changes, and why" :fault="faultOf(error, 'note')">
        <el-input :id="id" v-model="note" style="--chars: 60" maxlength="600" />
      </Field>
      <Problem :error="error" :fields="['note', ...(fields ?? [])]" />
      <p class="row">
        <el-button :disabled="busy || !note.trim()" type="primary" native-type="submit"
          >Keep it as version {{ next }}</el-button
        >
        <el-button @click="emit('leave')">Leave it as it was</el-button>
      </p>
    </form>
    <details v-if="versions.length">
      <summary class="quiet">
        In force: version {{ version }}; {{ versions.length }}
        {{ versions.length === 1 ? 'change' : 'changes' }}
      </summary>
      <table class="ledger">
        <tbody>
          <tr v-for="one in versions" :key="one.version">
            <td style="width: 90px">version {{ one.version }}</td>
            <td>{{ one.note }}</td>
            <td class="num quiet">{{ one.person }}, <When :at="one.made_at" /></td>
          </tr>
        </tbody>
      </table>
    </details>
    <p v-else class="quiet">As Tallyman comes; nothing was changed yet.</p>
  </div>
</template>
