<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import AreaField from '@/shared/AreaField.vue'
import Choice from '@/shared/Choice.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import WholeField from '@/shared/WholeField.vue'
import type { Stages } from './rollout'

/** How a release is rolled out: at once, on trial, or first in one area or on one robot. */
const props = defineProps<{
  robots: Schemas['RobotName'][]
  rows: Schemas['CouldTake'][]
  error: unknown
}>()
const stages = defineModel<Stages>({ required: true })
const robots = computed(() =>
  props.robots.map((one) => ({ value: one.id, words: `${one.name} on ${one.host}` })),
)
const fault = (name: string) => faultOf(props.error, name)
</script>

<template>
  <fieldset class="stack tight">
    <legend><h2>How</h2></legend>
    <el-radio-group v-model="stages.how" aria-label="How it is rolled out">
      <el-radio value="at once">At once</el-radio>
      <el-radio value="on trial">On trial: its runs post nothing until each goes live again</el-radio>
      <el-radio value="staged">In stages: first in one area or on one robot, then the rest</el-radio>
    </el-radio-group>
    <template v-if="stages.how === 'staged'">
      <el-radio-group v-model="stages.first" aria-label="What goes first">
        <el-radio value="area">One area goes first</el-radio>
        <el-radio value="robot">One robot goes first</el-radio>
      </el-radio-group>
      <div class="row top">
        <Field v-if="stages.first === 'area'" v-slot="{ id, invalid }" label="Area" :fault="fault('first')">
          <AreaField :id="id" v-model="stages.area" :invalid="invalid" />
        </Field>
        <Field v-else v-slot="{ id }" label="Robot" help="whatever it takes of them" :fault="fault('first')">
          <Choice :id="id" v-model="stages.robot" :options="robots" placeholder="choose a robot" />
        </Field>
        <Field
          v-slot="{ id, invalid }"
          label="The rest follows after"
          help="runs that ended well"
          :fault="fault('good_wanted')"
        >
          <WholeField :id="id" v-model="stages.good_wanted" :min="1" :max="100" :invalid="invalid" />
        </Field>
        <Field
          v-slot="{ id, invalid }"
          label="It goes back at more than"
          help="that failed or were lost"
          :fault="fault('bad_allowed')"
        >
          <WholeField :id="id" v-model="stages.bad_allowed" :min="0" :max="20" :invalid="invalid" />
        </Field>
      </div>
    </template>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}
legend {
  padding: 0;
}
.top {
  align-items: flex-start;
}
</style>
