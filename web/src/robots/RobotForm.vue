<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** A robot: new on a host, or its tags and areas changed. */
const props = defineProps<{
  robot?: Schemas['Robot']
  hosts: Schemas['Host'][]
  areas: Schemas['AreaBelow'][]
}>()
const emit = defineEmits<{ leave: [] }>()
const name = ref(props.robot?.name ?? '')
const host = ref(props.robot?.host_id ?? props.hosts[0]?.id ?? 0)
const tags = ref((props.robot?.tags ?? []).join(', '))
const account = ref(props.robot?.account ?? '')
const areas = ref<number[]>((props.robot?.areas ?? []).map((area) => area.id))
const save = useAction(async () => {
  const body = {
    tags: tags.value
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean),
    area_ids: areas.value,
    account: account.value,
  }
  if (props.robot) {
    const params = { path: { number: props.robot.id }, header: { 'if-match': `"${seen.value}"` } }
    await ask(api.PUT('/api/v1/robots/{number}', { params, body }))
  } else {
    await ask(api.POST('/api/v1/robots', { body: { ...body, name: name.value, host_id: host.value } }))
  }
  emit('leave')
})
const seen = useSeen(() => props.robot?.version, save.error)
</script>

<template>
  <form class="note stack tight" @submit.prevent="save.go()">
    <h2>{{ robot ? `Change ${robot.name}` : 'Add a robot' }}</h2>
    <p v-if="!hosts.length" class="care">Add a host first; a robot works on one.</p>
    <div class="row top">
      <Field
        v-if="!robot"
        v-slot="{ id }"
        label="Name of the robot"
        :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="name" autofocus
      /></Field>
      <Field v-if="!robot" v-slot="{ id }" label="On host" :fault="faultOf(save.error.value, 'host')">
        <el-select :id="id" v-model="host"
          ><el-option v-for="one in hosts" :key="one.id" :value="one.id" :label="one.name"
        /></el-select>
      </Field>
      <Field
        v-slot="{ id }"
        label="Tags, what it can do"
        help="separated by commas"
        :fault="faultOf(save.error.value, 'tags')"
      >
        <el-input :id="id" v-model="tags" style="--chars: 28" placeholder="spreadsheets, letters" />
      </Field>
      <Field
        v-slot="{ id }"
        label="Run-as account"
        help="empty: the runner's own account"
        :fault="faultOf(save.error.value, 'account')"
      >
        <el-input :id="id" v-model="account" style="--chars: 14" />
      </Field>
    </div>
    <fieldset>
      <legend class="quiet">Allowed in, and in all areas below</legend>
      <el-checkbox-group v-model="areas">
        <el-checkbox v-for="area in props.areas" :key="area.id" class="area" :value="area.id">{{
          area.name
        }}</el-checkbox>
      </el-checkbox-group>
    </fieldset>
    <Problem :error="save.error.value" :fields="['name', 'host', 'tags', 'account']" />
    <p class="row">
      <el-button :disabled="save.busy.value || (!robot && !host)" type="primary" native-type="submit"
        >{{ robot ? 'Keep the changes' : 'Add it' }}
      </el-button>
      <el-button @click="emit('leave')">Leave it</el-button>
    </p>
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
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
