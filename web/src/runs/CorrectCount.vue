<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Says what a run is to be counted as, when the package counted wrongly; nothing is erased. */
const props = defineProps<{ run: Schemas['RunWhole'] }>()
const open = ref(false)
const units = ref(
  String(
    props.run.fix?.units ?? props.run.entries.find((one) => one.line === 'time saved')?.units ?? '0',
  ).replace(/\.?0+$/, '') || '0',
)
const back = ref(
  String(props.run.fix?.handed_back ?? props.run.counts?.handed_back ?? '0').replace(/\.0+$/, ''),
)
const why = ref('')
const save = useAction(async () => {
  const body = { units: units.value, handed_back: back.value, why: why.value }
  await ask(
    api.POST('/api/v1/value/runs/{number}/correct', { params: { path: { number: props.run.id } }, body }),
  )
  unsent.done()
  open.value = false
})
const unsent = useDraft('The corrected count', () => `count-${props.run.id}`, { units, back, why }, { open })
</script>

<template>
  <p v-if="run.fix" class="note">
    {{ run.fix.person }} corrected the count to {{ Number(run.fix.units) }} units,
    {{ Number(run.fix.handed_back) }} handed back: “{{ run.fix.why }}”
  </p>
  <p v-if="!open && run.may.correct" class="above">
    <el-button @click="open = true">Correct the count</el-button>
  </p>
  <form v-if="open" class="note stack tight above" @submit.prevent="save.go()">
    <DraftNote :draft="unsent" />
    <h3>Correct the count</h3>
    <p>
      The entries that stand are reversed and posted anew. If their month is closed, the difference falls in
      the open month and names the month it belongs to.
    </p>
    <div class="row top">
      <Field v-slot="{ id }" label="Units it counts" :fault="faultOf(save.error.value, 'units')"
        ><NumberField :id="id" v-model="units" :chars="8"
      /></Field>
      <Field v-slot="{ id }" label="of them handed back" :fault="faultOf(save.error.value, 'handed_back')"
        ><NumberField :id="id" v-model="back" :chars="8"
      /></Field>
      <Field v-slot="{ id }" label="Why" :fault="faultOf(save.error.value, 'why')"
        ><el-input :id="id" v-model="why" style="--chars: 40"
      /></Field>
    </div>
    <Problem :error="save.error.value" :fields="['units', 'handed_back', 'why']" />
    <p class="row">
      <el-button :disabled="save.busy.value" type="primary" native-type="submit">Correct it</el-button>
      <el-button @click="open = false">Cancel</el-button>
    </p>
  </form>
</template>

<style scoped>
.above {
  margin-top: 14px;
}
</style>
