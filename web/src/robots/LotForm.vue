<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import DayField from '@/shared/DayField.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import Problem from '@/shared/Problem.vue'
import NumberField from '@/shared/NumberField.vue'
import { useMe } from '@/shared/session'
import { useEdit } from '@/shared/useEdit'
import WholeField from '@/shared/WholeField.vue'

/** A lot of seats as it is entered or changed, such as its last day when it was renewed. */
const props = defineProps<{
  kind: Schemas['SeatsOfKind']['kind']
  lot?: Schemas['LotOfSeats']
  today: string
}>()
const emit = defineEmits<{ leave: [] }>()
const { currency } = useMe()
const params = (version: number) => ({
  path: { number: props.lot!.id },
  header: { 'if-match': `"${version}"` },
})
const edit = useEdit(
  () => ({
    number: (props.lot?.number ?? 1) as number | null,
    first_on: props.lot?.first_on ?? props.today,
    last_on: props.lot?.last_on ?? '',
    price: props.lot?.price ?? '',
    note: props.lot?.note ?? '',
  }),
  (form, version) => {
    const body = {
      ...form,
      kind: props.kind,
      number: form.number ?? 0,
      last_on: form.last_on || null,
      price: form.price || null,
    }
    if (!props.lot) return ask(api.POST('/api/v1/seats/lots', { body }))
    return ask(api.PUT('/api/v1/seats/lots/{number}', { params: params(version), body }))
  },
  {
    what: 'The lot of seats',
    place: () => `seats-${props.kind}-${props.lot?.id ?? 0}`,
    version: () => props.lot?.version,
    after: () => emit('leave'),
  },
)
const { fields: form, save } = edit
const fault = (name: string) => faultOf(save.error.value, name)
const asking = ref(false)
const takeBack = useAction(async () => {
  await ask(api.DELETE('/api/v1/seats/lots/{number}', { params: params(props.lot!.version) }))
  asking.value = false
  emit('leave')
})
</script>

<template>
  <FormSheet
    :edit="edit"
    :title="lot ? 'Change this lot' : `Seats bought, ${kind}`"
    :action="lot ? 'Keep the lot' : 'Enter them'"
    leave="Cancel"
    :fields="['number', 'first_on', 'last_on', 'price', 'note']"
    :names="{ first_on: 'First day', last_on: 'Last day', price: 'Price of a seat a year' }"
    @leave="emit('leave')"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Number" :fault="fault('number')">
        <WholeField :id="id" v-model="form.number" :min="1" :max="10000" />
      </Field>
      <Field v-slot="{ id }" label="First day" :fault="fault('first_on')">
        <DayField :id="id" v-model="form.first_on" label="First day" />
      </Field>
      <Field v-slot="{ id }" label="Last day" help="empty: for good" :fault="fault('last_on')">
        <DayField :id="id" v-model="form.last_on" label="Last day" :min="form.first_on" />
      </Field>
      <Field
        v-slot="{ id }"
        label="Price of a seat a year"
        help="empty: the one of the cost tables"
        :fault="fault('price')"
      >
        <NumberField :id="id" v-model="form.price" kind="money" :unit="currency" :chars="10" />
      </Field>
      <Field v-slot="{ id }" label="Note" :fault="fault('note')">
        <el-input :id="id" v-model="form.note" maxlength="200" style="--chars: 24" />
      </Field>
    </div>
    <template #more>
      <el-button v-if="lot" type="danger" plain @click="asking = true">Entered by mistake</el-button>
    </template>
  </FormSheet>
  <Confirm
    v-if="lot"
    v-model="asking"
    title="Take this lot back?"
    :busy="takeBack.busy.value"
    action="Take it back"
    @yes="takeBack.go()"
  >
    <p>
      It is then as if it had never been bought, also for days that are over; the audit trail keeps it. A lot
      that merely ends is given its last day instead.
    </p>
    <Problem :error="takeBack.error.value" />
  </Confirm>
</template>
