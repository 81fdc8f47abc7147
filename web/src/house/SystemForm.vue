<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { usePeople } from '@/shared/people'
import Problem from '@/shared/Problem.vue'
import FormSheet from '@/shared/FormSheet.vue'
import { useEdit } from '@/shared/useEdit'
import { SYSTEM_ACCESS } from '@/api/words'
import Choice from '@/shared/Choice.vue'

/** A system as it is entered or changed. */
const props = defineProps<{ system?: Schemas['InventoryRow'] }>()
const emit = defineEmits<{ done: [] }>()
const edit = useEdit(
  () => ({
    name: props.system?.name ?? '',
    access: props.system?.access ?? 'web',
    owner_id: props.system?.owner_id ?? null,
    test_system: props.system?.test_system ?? 'not known',
    note: props.system?.note ?? '',
  }),
  (body, version) => {
    if (!props.system) return ask(api.POST('/api/v1/systems', { body }))
    const params = { path: { number: props.system.id }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/systems/{number}', { params, body }))
  },
  {
    what: 'The system',
    place: () => `system-${props.system?.id ?? 0}`,
    version: () => props.system?.version,
    after: () => emit('done'),
  },
)
const { fields: form, save } = edit
// Both owners of a conflict are called by name, however many people there are.
const { nameOf } = usePeople(() => [form.value.owner_id, props.system?.owner_id])
const retire = useAction(async (retired: boolean) => {
  if (!props.system) return
  const params = { path: { number: props.system.id } }
  await ask(api.POST('/api/v1/systems/{number}/retire', { params, body: { retired } }))
  emit('done')
})
const fault = (name: string): string | undefined => faultOf(save.error.value, name)
</script>

<template>
  <FormSheet
    :edit="edit"
    :action="system ? 'Keep it' : 'Enter it'"
    leave="Cancel"
    :fields="['name', 'access', 'test_system', 'note']"
    :names="{ owner_id: 'Owner' }"
    :say="(path, value) => (path === 'owner_id' ? nameOf(value) : undefined)"
    @leave="emit('done')"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="System" :fault="fault('name')"
        ><el-input :id="id" v-model="form.name" style="--chars: 24" maxlength="80"
      /></Field>
      <Field v-slot="{ id }" label="Access" :fault="fault('access')">
        <Choice :id="id" v-model="form.access" :options="SYSTEM_ACCESS" />
      </Field>
      <Field v-slot="{ id }" label="Owner" help="Who is told when something about it changes">
        <PersonField :id="id" v-model="form.owner_id" label="Owner" />
      </Field>
      <Field v-slot="{ id }" label="Test system" :fault="fault('test_system')">
        <Choice :id="id" v-model="form.test_system" :options="['yes', 'no', 'not known']" />
      </Field>
      <Field v-slot="{ id }" label="Note" :fault="fault('note')"
        ><el-input :id="id" v-model="form.note" style="--chars: 34" maxlength="500"
      /></Field>
    </div>
    <p v-if="system && form.name !== system.name" class="quiet">
      Ideas that name {{ system.name }} go over to the new name; promises stay as they were frozen.
    </p>
    <Problem :error="retire.error.value" />
    <template #more>
      <el-button v-if="system" link type="primary" @click="retire.go(system.state !== 'retired')"
        >{{ system.state === 'retired' ? 'Take it into use again' : 'Retire it' }}
      </el-button>
    </template>
  </FormSheet>
</template>

<style scoped>
.top {
  align-items: flex-start;
  flex-wrap: wrap;
}
</style>
