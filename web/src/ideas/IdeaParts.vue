<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import Choice from '@/shared/Choice.vue'
import { isPending, useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** In the margin: where an idea belongs, and who helps with it. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const asking = ref(false)
const who = ref<number | null>(null)
const task = ref('')
const number = { path: { number: props.idea.id } }
const add = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/helpers', {
      params: number,
      body: { person: who.value ?? 0, task: task.value },
    }),
  )
  asking.value = false
  who.value = null
  task.value = ''
})
const soon = useSoon()
const about = (person: number) => `helper-${props.idea.id}-${person}`
function drop(one: { id: number; name: string }) {
  const params = { path: { number: props.idea.id, person: one.id } }
  soon(`${one.name} is let go`, about(one.id), (init) =>
    ask(api.DELETE('/api/v1/ideas/{number}/helpers/{person}', { params, ...init })),
  )
}
const place = useAction((area: string) =>
  ask(api.PUT('/api/v1/ideas/{number}/area', { params: number, body: { area: Number(area) || null } })),
)
const unsent = useDraft('What you ask for', () => `parts-${props.idea.id}`, { who, task }, { open: asking })
</script>

<template>
  <section class="stack tight">
    <p v-for="one in idea.helpers.filter((row) => !isPending(about(row.id)))" :key="one.id">
      {{ one.name }}: {{ one.task || 'helps' }}
      <el-button v-if="idea.may.ask_helpers" link type="primary" @click="drop(one)">let go</el-button>
    </p>
    <p v-if="idea.may.ask_helpers && !asking">
      <el-button link type="primary" @click="asking = true">Ask somebody to help</el-button>
    </p>
    <form v-if="asking" class="stack tight" @submit.prevent="add.go()">
      <DraftNote :draft="unsent" />
      <PersonField v-model="who" label="Who helps" />
      <Field v-slot="{ id }" label="With what" :fault="faultOf(add.error.value, 'task')"
        ><el-input :id="id" v-model="task"
      /></Field>
      <Problem :error="add.error.value" :fields="['task']" />
      <p class="row">
        <el-button :disabled="add.busy.value || !who" type="primary" native-type="submit">Ask them</el-button>
        <el-button @click="asking = false">Cancel</el-button>
      </p>
    </form>
    <h2>Where it belongs</h2>
    <p v-if="!idea.may.place">{{ idea.area ?? 'the whole company' }}</p>
    <Choice
      v-else
      :model-value="idea.area_id"
      nothing="the whole company"
      label="Where it belongs"
      :options="idea.areas.map((one) => ({ value: one.id, words: one.name }))"
      @update:model-value="(now) => place.go(now === null ? '' : String(now))"
    />
    <p class="quiet">Roles held for this area reach the idea.</p>
    <Problem :error="place.error.value" />
  </section>
</template>
