<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import Suggest from '@/shared/Suggest.vue'
import { useEdit } from '@/shared/useEdit'

/** Whose installation this is: its name, the zone its days end in, its currency. */
const props = defineProps<{ company: Schemas['CompanyOut'] }>()
// The company has no version; who keeps it says which name stood there.
let seen = props.company.name
const edit = useEdit(
  () => ({ name: props.company.name, zone: props.company.zone, currency: props.company.currency }),
  async (fields) => {
    const body = { ...fields, currency: fields.currency.toUpperCase(), seen }
    await ask(api.PUT('/api/v1/house/company', { body }))
    seen = fields.name
  },
  { what: 'The company', place: () => 'company', version: () => 0 },
)
const { fields, save, ready } = edit
const zones = Intl.supportedValuesOf('timeZone')
</script>

<template>
  <FormSheet
    v-if="ready"
    :edit="edit"
    title="Company"
    action="Keep it"
    says="Kept."
    :fields="['company', 'zone', 'currency']"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Name" :fault="faultOf(save.error.value, 'company')"
        ><el-input :id="id" v-model="fields.name" style="--chars: 28"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Time zone"
        help="days and months end in it"
        :fault="faultOf(save.error.value, 'zone')"
        ><Suggest :id="id" v-model="fields.zone" :known="zones" :chars="22"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Currency"
        help="stays once something is posted in it"
        :fault="faultOf(save.error.value, 'currency')"
        ><el-input :id="id" v-model="fields.currency" maxlength="3" style="--chars: 8"
      /></Field>
    </div>
  </FormSheet>
</template>
