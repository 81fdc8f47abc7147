<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { size } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import { FILE_KINDS } from '@/api/words'
import { isPending, useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'
import Choice from '@/shared/Choice.vue'

/** One file: what it is, by whom, a safe look into it, and saying what it is. */
const props = defineProps<{ idea: number; file: Schemas['FileRow']; change: boolean }>()
const looking = ref(false)
const saying = ref(false)
const kind = ref('')
const title = ref('')
const remark = ref('')
const path = { number: props.idea, file_id: props.file.id }
const address = `/api/v1/ideas/${props.idea}/files/${props.file.id}`

const text = useQuery({
  queryKey: ['ideas', 'file', props.idea, props.file.id],
  enabled: () => looking.value && !props.file.pictured,
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/files/{file_id}/text', { params: { path } })),
})
const soon = useSoon()
const detach = () =>
  soon(`${props.file.title || props.file.name} is taken off`, `file-${props.file.id}`, (init) =>
    ask(api.DELETE('/api/v1/ideas/{number}/files/{file_id}', { params: { path }, ...init })),
  )
const going = computed(() => isPending(`file-${props.file.id}`))
const describe = useAction(async () => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/files/{file_id}', {
      params: { path },
      body: { kind: kind.value, title: title.value, remark: remark.value },
    }),
  )
  saying.value = false
  unsent.done()
})
function begin() {
  saying.value = !saying.value
  kind.value = props.file.kind
  title.value = props.file.title
  remark.value = props.file.remark
  unsent.done()
}
const WHY: Record<string, string> = {
  making: 'A look into it is being made.',
  failed: 'It cannot be looked into here; download it.',
  none: 'There is nothing to show of it here; download it.',
}
const unsent = useDraft(
  'What a file is',
  () => `file-${props.file.id}`,
  { kind, title, remark },
  { open: saying },
)
</script>

<template>
  <tr>
    <td>
      <div class="spread">
        <div>
          <a :href="address">{{ file.title || file.name }}</a>
          <div class="quiet">
            {{ file.kind }} · <template v-if="file.title">{{ file.name }}, </template>{{ size(file.size) }},
            {{ file.person }}
          </div>
          <div v-if="file.remark" class="quiet">“{{ file.remark }}”</div>
        </div>
        <div class="row tools">
          <el-button
            :disabled="file.view !== 'ready'"
            :title="WHY[file.view]"
            :aria-expanded="looking"
            link
            type="primary"
            @click="looking = !looking"
            >{{ looking ? 'Close' : file.view === 'making' ? 'Looking into it …' : 'Look' }}
          </el-button>
          <el-button v-if="change" :aria-expanded="saying" link type="primary" @click="begin">
            Describe
          </el-button>
          <el-button v-if="change" :disabled="going" link type="danger" @click="detach()">Take off</el-button>
        </div>
      </div>
      <div v-if="looking" class="look">
        <img
          v-if="file.pictured"
          :src="`${address}/picture.png`"
          :alt="`Picture of ${file.title || file.name}`"
        />
        <pre v-else-if="text.data.value"
          >{{ text.data.value.text }}{{ text.data.value.more ? ' …' : '' }}</pre>
      </div>
      <div v-if="saying" class="stack tight note">
        <div class="row top">
          <Field v-slot="{ id }" label="It is a" :fault="faultOf(describe.error.value, 'kind')">
            <Choice :id="id" v-model="kind" :options="FILE_KINDS" />
          </Field>
          <Field v-slot="{ id }" label="Title" :fault="faultOf(describe.error.value, 'title')">
            <el-input :id="id" v-model="title" style="--chars: 32" maxlength="220" />
          </Field>
        </div>
        <Field v-slot="{ id }" label="Remark" :fault="faultOf(describe.error.value, 'remark')">
          <el-input :id="id" v-model="remark" style="--chars: 52" maxlength="1100" />
        </Field>
        <p class="row">
          <el-button :disabled="describe.busy.value" type="primary" @click="describe.go()"> Keep </el-button>
          <el-button @click="saying = false">Cancel</el-button>
        </p>
      </div>
      <Problem :error="describe.error.value" :fields="['kind', 'title', 'remark']" />
    </td>
  </tr>
</template>

<style scoped>
.tools {
  gap: 14px;
  flex: none;
}
.look {
  margin-top: 8px;
  border: 1px solid var(--hair);
  max-height: 420px;
  overflow: auto;
}
.look img {
  display: block;
  max-width: 100%;
}
.look pre {
  margin: 0;
  padding: 10px;
  font: 12.5px/17px var(--text-face);
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
