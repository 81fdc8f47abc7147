<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import PickPerson from '@/people/PickPerson.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

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
const drop = useAction((person: number) =>
  ask(
    api.DELETE('/api/v1/ideas/{number}/helpers/{person}', {
      params: { path: { number: props.idea.id, person } },
    }),
  ),
)
const place = useAction((area: string) =>
  ask(api.PUT('/api/v1/ideas/{number}/area', { params: number, body: { area: Number(area) || null } })),
)
</script>

<template>
  <section class="stack tight">
    <p v-for="one in idea.helpers" :key="one.id">
      {{ one.name }}: {{ one.task || 'helps' }}
      <button v-if="idea.may.ask_helpers" class="plain" @click="drop.go(one.id)">let go</button>
    </p>
    <p v-if="idea.may.ask_helpers && !asking">
      <button class="plain" @click="asking = true">Ask somebody to help</button>
    </p>
    <form v-if="asking" class="stack tight" @submit.prevent="add.go()">
      <PickPerson v-model="who" label="Who helps" />
      <Field v-slot="{ id }" label="With what" :fault="faultOf(add.error.value, 'task')"
        ><input :id="id" v-model="task" type="text"
      /></Field>
      <Problem :error="add.error.value" :fields="['task']" />
      <p class="row">
        <button class="filled" :disabled="add.busy.value || !who">Ask them</button>
        <button type="button" @click="asking = false">Leave it</button>
      </p>
    </form>
    <h2>Where it belongs</h2>
    <p v-if="!idea.may.place">{{ idea.area ?? 'the whole company' }}</p>
    <select
      v-else
      :value="idea.area_id ?? ''"
      aria-label="Where it belongs"
      @change="place.go(($event.target as HTMLSelectElement).value)"
    >
      <option value="">the whole company</option>
      <option v-for="one in idea.areas" :key="one.id" :value="one.id">{{ one.name }}</option>
    </select>
    <p class="quiet">Roles held for this area reach the idea.</p>
    <Problem :error="drop.error.value ?? place.error.value" />
  </section>
</template>
