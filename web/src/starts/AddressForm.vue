<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { useUnsaved } from '@/shared/unsaved'
import WholeField from '@/shared/WholeField.vue'

/** From where, and how often a minute, a routine's address may be called. */
const props = defineProps<{ routine: number; address: Schemas['RoutineAddress'] | null }>()
const emit = defineEmits<{ leave: [token: string] }>()
const FIELDS = ['networks', 'a_minute']
const before = (props.address?.networks ?? []).join('\n')
const networks = ref(before)
const minute = ref<number | null>(props.address?.a_minute ?? 60)
useUnsaved('The address', () => networks.value !== before)
const keep = useAction(async () => {
  const path = { number: props.routine }
  const body = {
    networks: networks.value.split(/[\s,;]+/).filter(Boolean),
    a_minute: minute.value ?? 0,
  }
  if (props.address === null) {
    const made = await ask(api.POST('/api/v1/routines/{number}/address', { params: { path }, body }))
    emit('leave', made.token)
    return
  }
  const header = { 'if-match': `"${props.address.version}"` }
  await ask(api.PUT('/api/v1/routines/{number}/address', { params: { path, header }, body }))
  emit('leave', '')
})
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <div class="row top">
      <Field
        v-slot="{ id, invalid }"
        label="From which addresses"
        help="one a line, such as 10.0.4.17 or 10.0.4.0/24; left empty: from anywhere"
        :fault="faultOf(keep.error.value, 'networks')"
      >
        <el-input
          :id="id"
          v-model="networks"
          type="textarea"
          :rows="3"
          :aria-invalid="invalid"
          style="--chars: 34"
        />
      </Field>
      <Field
        v-slot="{ id, invalid }"
        label="Times a minute, at most"
        :fault="faultOf(keep.error.value, 'a_minute')"
      >
        <WholeField :id="id" v-model="minute" :min="1" :max="600" :invalid="invalid" />
      </Field>
    </div>
    <FormEnd
      :action="address ? 'Keep the changes' : 'Give it an address'"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="FIELDS"
      leave="Cancel"
      @leave="emit('leave', '')"
    />
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
