<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useEdit } from '@/shared/useEdit'
import FormSheet from '@/shared/FormSheet.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Choice from '@/shared/Choice.vue'
import { newArea } from '@/shared/newArea'
import Suggest from '@/shared/Suggest.vue'

/** A robot: new on a host, or its tags and areas changed. */
const props = defineProps<{
  robot?: Schemas['Robot']
  /** The host that a new one is begun from. */
  on?: number
  hosts: Schemas['Host'][]
  areas: Schemas['AreaBelow'][]
}>()
const emit = defineEmits<{ leave: []; made: [robot: { id: number; name: string }] }>()
let made: number | null = null
const fresh = newArea(props.areas)
const edit = useEdit(
  () => ({
    name: props.robot?.name ?? '',
    host: props.robot?.host_id ?? props.on ?? props.hosts[0]?.id ?? 0,
    tags: (props.robot?.tags ?? []).join(', '),
    account: props.robot?.account ?? '',
    areas: props.robot ? props.robot.areas.map((area) => area.id) : fresh === null ? [] : [fresh],
  }),
  async ({ name, host, tags, account, areas }, version) => {
    const named = tags
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean)
    const body = { name, host_id: host, tags: named, area_ids: areas, account }
    if (!props.robot) return (made = (await ask(api.POST('/api/v1/robots', { body }))).id)
    const params = { path: { number: props.robot.id }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/robots/{number}', { params, body }))
  },
  {
    what: 'The robot',
    place: () => `robot-${props.robot?.id ?? 0}`,
    version: () => props.robot?.version,
    after: () => {
      if (made !== null) emit('made', { id: made, name: fields.value.name })
      emit('leave')
    },
  },
)
const { fields, save } = edit
// What the chosen host reports; a name may be typed all the same, and is checked once its runner looks.
const known = computed(() => props.hosts.find((one) => one.id === fields.value.host)?.known ?? [])
const NAMES = { name: 'Name', host: 'On host', areas: 'Allowed in', account: 'Run-as account' }
const say = (path: string, value: unknown): string | undefined =>
  path === 'host'
    ? props.hosts.find((one) => one.id === value)?.name
    : path === 'areas'
      ? props.areas
          .filter((area) => (value as number[]).includes(area.id))
          .map((area) => area.name)
          .join('; ') || 'no area'
      : undefined
</script>

<template>
  <FormSheet
    :edit="edit"
    :title="robot ? `Change ${robot.name}` : 'Add a robot'"
    :action="robot ? 'Keep the changes' : 'Add it'"
    leave="Cancel"
    :fields="['name', 'host', 'tags', 'account']"
    :names="NAMES"
    :say="say"
    :wait="robot || fields.host ? '' : 'Add a host first; a robot works on one.'"
    @leave="emit('leave')"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the robot" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name"
      /></Field>
      <Field
        v-slot="{ id }"
        label="On host"
        :help="robot ? 'it moves when it is free' : undefined"
        :fault="faultOf(save.error.value, 'host')"
      >
        <Choice
          :id="id"
          v-model="fields.host"
          :options="hosts.map((one) => ({ value: one.id, words: one.name }))"
        />
      </Field>
      <Field
        v-slot="{ id }"
        label="Tags, what it can do"
        help="separated by commas"
        :fault="faultOf(save.error.value, 'tags')"
      >
        <el-input :id="id" v-model="fields.tags" style="--chars: 28" placeholder="spreadsheets, letters" />
      </Field>
      <Field
        v-slot="{ id }"
        label="Run-as account"
        :help="
          known.length
            ? 'of those its host knows; empty: one the runner makes'
            : 'empty: one the runner makes'
        "
        :fault="faultOf(save.error.value, 'account')"
      >
        <Suggest :id="id" v-model="fields.account" :known="known" :chars="14" />
      </Field>
    </div>
    <fieldset>
      <legend class="quiet">Allowed in, and in all areas below</legend>
      <el-checkbox-group v-model="fields.areas">
        <el-checkbox v-for="area in props.areas" :key="area.id" class="area" :value="area.id">{{
          area.name
        }}</el-checkbox>
      </el-checkbox-group>
    </fieldset>
  </FormSheet>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.area {
  display: inline-block;
  margin-right: 16px;
}
</style>
