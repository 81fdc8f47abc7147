<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Problem from '@/shared/Problem.vue'
import { useUnsaved } from '@/shared/unsaved'

/** Pausing a page with a sentence, taking it back, and opening it again. */
const props = defineProps<{ page: Schemas['PageSetup'] }>()
const asked = ref<'paused' | 'taken back' | null>(null)
const why = ref('')
useUnsaved('Why it is paused', () => asked.value !== null && why.value !== '')
const put = (state: string, said: string) =>
  ask(
    api.PUT('/api/v1/service-pages/{number}/state', {
      params: { path: { number: props.page.id! }, header: { 'if-match': `"${props.page.version}"` } },
      body: { state, why: said },
    }),
  )
const open = useAction(() => put('open', ''))
const keep = useAction(async () => {
  await put(asked.value!, why.value)
  asked.value = null
  why.value = ''
})
</script>

<template>
  <div class="row">
    <el-button v-if="page.state !== 'open'" type="primary" :disabled="open.busy.value" @click="open.go()">{{
      page.state === 'paused' ? 'Open it again' : 'Publish it again as it was'
    }}</el-button>
    <el-button v-if="page.state === 'open'" :aria-expanded="asked === 'paused'" @click="asked = 'paused'"
      >Pause it</el-button
    >
    <el-button
      v-if="page.state !== 'taken back'"
      :aria-expanded="asked === 'taken back'"
      @click="asked = 'taken back'"
      >Take it back</el-button
    >
  </div>
  <Problem :error="open.error.value" />
  <form v-if="asked" class="note stack tight" @submit.prevent="keep.go()">
    <p v-if="asked === 'paused'">Colleagues still see the page and read why; it starts nothing meanwhile.</p>
    <p v-else>
      Colleagues do not see the page any more, but for those who keep it among their favourites, who read why.
      What they started goes on, and stays theirs.
    </p>
    <Field v-slot="{ id, invalid }" label="Why" help="they read it" :fault="faultOf(keep.error.value, 'why')">
      <el-input :id="id" v-model="why" :aria-invalid="invalid" style="--chars: 60" />
    </Field>
    <FormEnd
      :action="asked === 'paused' ? 'Pause it' : 'Take it back'"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="['why']"
      leave="Cancel"
      @leave="asked = null"
    />
  </form>
</template>
