<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FileField from '@/shared/FileField.vue'
import FilePreview from '@/shared/FilePreview.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'
import ReleaseLook from './ReleaseLook.vue'
import WhoSees from './WhoSees.vue'

/** Releases a package: its zip is looked at first, what changed is said, and the number follows from it. */
type Weight = Schemas['NextNumber']['says']
const router = useRouter()
const note = ref('')
const file = ref<File | null>(null)
const seen = ref<Schemas['ReleaseLook'] | null>(null)
const says = ref<Weight | ''>('')
const sees = reactive<Schemas['SeenByIn']>({ seen_by: 'company', area_id: null })
const tryout = computed(() => sees.seen_by === 'maker')
const form = (more: Record<string, string> = {}) => {
  const one = new FormData()
  if (file.value) one.set('file', file.value)
  for (const [name, value] of Object.entries(more)) one.set(name, value)
  return one
}
const look = useAction(async () => {
  const body = form()
  seen.value = await ask(
    api.POST('/api/v1/releases/look', {
      body: body as unknown as { file: string },
      bodySerializer: () => body,
    }),
  )
  says.value = seen.value.numbers.find((one) => one.enough)?.says ?? ''
}, [])
function chosen(one: File | undefined) {
  file.value = one ?? null
  seen.value = null
  if (one) void look.go()
}
const release = useAction(async () => {
  const body = form({ note: note.value, says: says.value, number: '', origin: 'page', seen_by: sees.seen_by })
  if (sees.seen_by === 'area') body.set('area_id', String(sees.area_id))
  const made = await ask(
    api.POST('/api/v1/releases', {
      body: body as unknown as Required<Schemas['Body_release_api_v1_releases_post']>,
      bodySerializer: () => body,
    }),
  )
  unsent.done()
  await router.push(`/workshop/releases/${made.id}`)
})
const unsent = useDraft('The note on the release', () => 'release', { note })
const number = computed(() =>
  tryout.value
    ? undefined
    : (seen.value?.number ?? seen.value?.numbers.find((one) => one.says === says.value)?.number),
)
const wait = computed(() => {
  if (!file.value) return 'Choose the zip first.'
  if (look.busy.value) return 'Looking at it …'
  if (!seen.value) return 'It cannot be released so.'
  if (seen.value.against.length && !tryout.value) return 'Its number promises less than it changes.'
  if (sees.seen_by === 'area' && sees.area_id === null) return 'Choose the area that is to see it.'
  return note.value.trim() ? '' : 'Say in a sentence what changed.'
})
</script>

<template>
  <form class="stack tight" @submit.prevent="release.go()">
    <DraftNote :draft="unsent" />
    <h2>Release a package</h2>
    <p class="row">
      <FileField
        :words="file ? file.name : 'Choose a zip'"
        label="Package"
        accept=".zip"
        @chosen="([one]: File[]) => chosen(one)"
      />
    </p>
    <FilePreview v-if="file" :file="file" />
    <Problem :error="look.error.value" />
    <template v-if="seen">
      <WhoSees v-model="sees" mine :fault="faultOf(release.error.value, 'area_id')" />
      <ReleaseLook v-model="says" :look="seen" :numberless="tryout" />
      <Field v-slot="{ id }" label="What changed" :fault="faultOf(release.error.value, 'note')">
        <el-input :id="id" v-model="note" maxlength="1000" placeholder="in a sentence" style="--chars: 60" />
      </Field>
    </template>
    <FormEnd
      :action="tryout ? 'Keep it as a try-out' : number ? `Release it as ${number}` : 'Release it'"
      :busy="release.busy.value || look.busy.value"
      :error="release.error.value"
      :fields="['note', 'area_id']"
      :wait="wait"
    />
  </form>
</template>
