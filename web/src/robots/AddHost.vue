<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import WholeField from '@/shared/WholeField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** A new host with its seats; its one-time code is handed up to be shown once. */
const emit = defineEmits<{ done: [made: { host: string; code: string; until: string }]; leave: [] }>()
const name = ref('')
const seats = ref(1)
const add = useAction(async () => {
  const made = await ask(api.POST('/api/v1/hosts', { body: { name: name.value, seats: seats.value } }))
  unsent.done()
  emit('done', { host: name.value, code: made.code, until: made.until })
})
const unsent = useDraft('The new host', () => 'host-new', { name, seats })
</script>

<template>
  <form class="note stack tight" @submit.prevent="add.go()">
    <DraftNote :draft="unsent" />
    <h2>Add a host</h2>
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the host" :fault="faultOf(add.error.value, 'name')"
        ><el-input :id="id" v-model="name" autofocus
      /></Field>
      <Field v-slot="{ id }" label="Seats" :fault="faultOf(add.error.value, 'seats')"
        ><WholeField :id="id" v-model="seats"
      /></Field>
    </div>
    <Problem :error="add.error.value" :fields="['name', 'seats']" />
    <p class="row">
      <el-button :disabled="add.busy.value" type="primary" native-type="submit"
        >Add it and show the code</el-button
      >
      <el-button @click="emit('leave')">Cancel</el-button>
    </p>
  </form>
</template>
