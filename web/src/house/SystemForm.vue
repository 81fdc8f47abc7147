<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, ProblemError, type Schemas } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** A system as it is entered or changed. */
const props = defineProps<{ system?: Schemas['InventoryRow'] }>()
const emit = defineEmits<{ done: [] }>()
const ACCESS = ['API', 'web', 'desktop', 'remote screen', 'paper or image']
const form = ref({
  name: props.system?.name ?? '',
  access: props.system?.access ?? 'web',
  owner_id: props.system?.owner_id ?? null,
  test_system: props.system?.test_system ?? 'not known',
  note: props.system?.note ?? '',
})
const version = ref(props.system?.version ?? 0)
const keep = useAction(async () => {
  if (!props.system) await ask(api.POST('/api/v1/systems', { body: form.value }))
  else
    await ask(
      api.PUT('/api/v1/systems/{number}', {
        params: { path: { number: props.system.id }, header: { 'if-match': `"${version.value}"` } },
        body: form.value,
      }),
    )
  emit('done')
})
const retire = useAction(async (retired: boolean) => {
  if (!props.system) return
  const params = { path: { number: props.system.id } }
  await ask(api.POST('/api/v1/systems/{number}/retire', { params, body: { retired } }))
  emit('done')
})
/** Somebody changed it meanwhile: what is typed stays, and is kept over theirs when sent once more. */
const clash = (): ProblemError | null =>
  keep.error.value instanceof ProblemError && keep.error.value.code === 'conflict' ? keep.error.value : null
const theirs = (): string =>
  Object.values((clash()?.more.theirs ?? {}) as Record<string, unknown>)
    .filter(Boolean)
    .join(', ')
function over() {
  version.value = Number(clash()?.more.version ?? version.value)
  void keep.go()
}
const fault = (name: string): string | undefined => faultOf(keep.error.value, name)
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <div class="row top">
      <Field v-slot="{ id }" label="System" :fault="fault('name')"
        ><el-input :id="id" v-model="form.name" style="--chars: 24" maxlength="80"
      /></Field>
      <Field v-slot="{ id }" label="Access" :fault="fault('access')">
        <el-select :id="id" v-model="form.access"
          ><el-option v-for="one in ACCESS" :key="one" :label="one" :value="one"
        /></el-select>
      </Field>
      <Field v-slot="{ id }" label="Owner" help="Who is told when something about it changes">
        <PersonField :id="id" v-model="form.owner_id" label="Owner" />
      </Field>
      <Field v-slot="{ id }" label="Test system" :fault="fault('test_system')">
        <el-select :id="id" v-model="form.test_system"
          ><el-option v-for="one in ['yes', 'no', 'not known']" :key="one" :label="one" :value="one"
        /></el-select>
      </Field>
      <Field v-slot="{ id }" label="Note" :fault="fault('note')"
        ><el-input :id="id" v-model="form.note" style="--chars: 34" maxlength="500"
      /></Field>
    </div>
    <p v-if="system && form.name !== system.name" class="quiet">
      Ideas that name {{ system.name }} go over to the new name; promises stay as they were frozen.
    </p>
    <div v-if="clash()" class="bad stack tight" role="alert">
      <p>{{ clash()?.message }} Theirs: {{ theirs() }}.</p>
      <p class="row"><el-button @click="over">Keep mine over it</el-button></p>
    </div>
    <p class="row">
      <el-button :disabled="keep.busy.value" type="primary" native-type="submit">{{
        system ? 'Keep it' : 'Enter it'
      }}</el-button>
      <el-button @click="emit('done')">Leave it</el-button>
      <el-button v-if="system" link type="primary" @click="retire.go(system.state !== 'retired')"
        >{{ system.state === 'retired' ? 'Take it into use again' : 'Retire it' }}
      </el-button>
    </p>
    <Problem
      v-if="!clash()"
      :error="keep.error.value ?? retire.error.value"
      :fields="['name', 'access', 'test_system', 'note']"
    />
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
  flex-wrap: wrap;
}
</style>
