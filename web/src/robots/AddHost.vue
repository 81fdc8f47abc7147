<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { several } from '@/shared/format'
import FormEnd from '@/shared/FormEnd.vue'
import WholeField from '@/shared/WholeField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** A new host with its seats; its one-time code is handed up to be shown once. */
const emit = defineEmits<{ done: [made: { host: string; code: string; until: string }]; leave: [] }>()
const name = ref('')
const seats = ref(1)
// How many seats are left is said before it is sent; where it was never entered how many are, nothing limits them.
const all = useQuery({ queryKey: ['robots', 'seats'], queryFn: () => ask(api.GET('/api/v1/seats')) })
const bought = computed(() => all.data.value?.kinds.find((one) => one.kind === 'unattended' && one.counted))
const left = computed(() => bought.value && Math.max(0, (bought.value.bought ?? 0) - bought.value.given))
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
        ><el-input :id="id" v-model="name"
      /></Field>
      <Field v-slot="{ id }" label="Seats" :fault="faultOf(add.error.value, 'seats')"
        ><WholeField :id="id" v-model="seats" :min="0" :max="1000"
      /></Field>
    </div>
    <p v-if="bought" class="quiet">
      A seat lets one robot at a time work on it. Of {{ several(bought.bought ?? 0, 'seat', 'seats') }} bought
      {{ left ? `${left} ${left === 1 ? 'is' : 'are'} left` : 'none is left: begin with 0, or' }}
      <router-link v-if="!left" to="/robots/seats?kind=unattended">enter more seats first</router-link>.
    </p>
    <p v-else class="quiet">A seat lets one robot at a time work on it.</p>
    <FormEnd
      action="Add it and show the code"
      :busy="add.busy.value"
      :error="add.error.value"
      :fields="['name', 'seats']"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>
