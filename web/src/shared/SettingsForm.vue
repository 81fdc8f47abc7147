<script setup lang="ts" generic="T extends object">
import { ref } from 'vue'
import Conflict from './Conflict.vue'
import DraftNote from './DraftNote.vue'
import { faultOf } from './faults'
import Field from './Field.vue'
import FormEnd from './FormEnd.vue'
import type { Settings } from './useSettings'
import When from './When.vue'
import { several } from '@/shared/format'

/** A house rule: set in versions, each with a note on what changes and why; and the versions so far. */
const props = defineProps<{
  settings: Settings<T>
  fields?: string[]
  names?: Record<string, string>
  say?: (path: string, value: unknown) => string | undefined
  /** Why it cannot be kept yet, beside the note that is asked for. */
  wait?: string
}>()
const { edit, note, version, versions } = props.settings
const { changed, refused, rows, unsent } = edit
const error = edit.save.error
// The first version is the one that Tallyman comes with; results name it as well.
const numbered = (version: number): number => version + 1
const seeing = ref<string[]>([])
</script>

<template>
  <div class="stack">
    <slot name="before" />
    <form v-if="changed" class="note stack tight" @submit.prevent="edit.save.go()">
      <DraftNote :draft="unsent" />
      <Conflict
        v-if="refused"
        :said="refused.message"
        :rows="rows"
        :names="names"
        :say="say"
        @settle="edit.settle"
      />
      <template v-else>
        <Field v-slot="{ id }" label="What changes, and why" :fault="faultOf(error, 'note')">
          <el-input :id="id" v-model="note" style="--chars: 60" maxlength="600" />
        </Field>
        <FormEnd
          :action="`Keep it as version ${numbered(version) + 1}`"
          leave="Cancel"
          :busy="edit.save.busy.value"
          :error="error"
          :fields="['note', ...(fields ?? [])]"
          :wait="wait || (note.trim() ? '' : 'Say what changes, and why.')"
          @leave="edit.read()"
        />
      </template>
    </form>
    <slot />
    <el-collapse v-if="versions.length" v-model="seeing">
      <el-collapse-item
        name="versions"
        :title="`In force: version ${numbered(version)}; ${several(versions.length, 'change', 'changes')}`"
      >
        <table class="ledger" aria-label="Versions">
          <tbody>
            <tr v-for="one in versions" :key="one.version">
              <td style="width: 90px">version {{ numbered(one.version) }}</td>
              <td>{{ one.note }}</td>
              <td class="num quiet">{{ one.person }}, <When :at="one.made_at" /></td>
            </tr>
          </tbody>
        </table>
      </el-collapse-item>
    </el-collapse>
    <p v-else class="quiet">As Tallyman comes; nothing was changed yet.</p>
  </div>
</template>
