<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import ClosedDays from './ClosedDays.vue'

/** An area's name and its own closed days. */
const props = defineProps<{ area: Schemas['AreaOut'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const name = ref(props.area.name)
const save = useAction(async () => {
  await ask(
    api.PUT('/api/v1/areas/{number}/name', {
      params: { path: { number: props.area.id }, header: { 'if-match': `"${seen.value}"` } },
      body: { name: name.value },
    }),
  )
  emit('done')
})
const seen = useSeen(() => props.area.version, save.error)
</script>

<template>
  <div class="note stack tight">
    <form class="row" @submit.prevent="save.go()">
      <Field v-slot="{ id }" label="Name of the area" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="name"
      /></Field>
      <el-button :disabled="save.busy.value || name === area.name" type="primary" native-type="submit"
        >Keep the name</el-button
      >
      <el-button @click="emit('leave')">Leave it</el-button>
    </form>
    <Problem :error="save.error.value" :fields="['name']" />
    <h3>Closed days of {{ area.name }} and all below it, beside the company's</h3>
    <ClosedDays :area="area.id" :days="area.days" change />
  </div>
</template>
