<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import TimeField from '@/shared/TimeField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** The hours within which a host works; outside of them its robots take no new run. */
const props = defineProps<{ host: Schemas['Host'] }>()
const emit = defineEmits<{ leave: [] }>()
const { zone } = useMe()
const bound = ref(props.host.hours_from !== null)
const from = ref(props.host.hours_from ?? '08:00')
const to = ref(props.host.hours_to ?? '18:00')
const place = ref(props.host.hours_zone ?? zone.value)
const save = useAction(async () => {
  const body = {
    start: bound.value ? from.value : null,
    end: bound.value ? to.value : null,
    zone: place.value,
  }
  await ask(api.PUT('/api/v1/hosts/{number}/hours', { params: { path: { number: props.host.id } }, body }))
  unsent.done()
  emit('leave')
})
const unsent = useDraft('The hours', () => `hours-${props.host.id}`, { bound, from, to, place })
</script>

<template>
  <form class="note stack tight" @submit.prevent="save.go()">
    <DraftNote :draft="unsent" />
    <h3>When {{ host.name }} works</h3>
    <el-checkbox v-model="bound">only within hours; runs that are on go on to their end</el-checkbox>
    <div v-if="bound" class="row top">
      <Field v-slot="{ id }" label="From" :fault="faultOf(save.error.value, 'from')"
        ><TimeField :id="id" v-model="from"
      /></Field>
      <Field v-slot="{ id }" label="To" :fault="faultOf(save.error.value, 'to')"
        ><TimeField :id="id" v-model="to"
      /></Field>
      <Field v-slot="{ id }" label="Zone" :fault="faultOf(save.error.value, 'zone')"
        ><el-input :id="id" v-model="place" style="--chars: 20"
      /></Field>
    </div>
    <FormEnd
      action="Keep it"
      :busy="save.busy.value"
      :error="save.error.value"
      :fields="['from', 'to', 'zone']"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>
