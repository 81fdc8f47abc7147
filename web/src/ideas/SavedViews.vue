<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** Saved views of the list: filters, order and columns under a name, one's own and what others share. */
const props = defineProps<{ query: string }>()
const emit = defineEmits<{ open: [query: string] }>()
const views = useQuery({
  queryKey: ['views', 'ideas'],
  queryFn: () => ask(api.GET('/api/v1/views/{of}', { params: { path: { of: 'ideas' } } })),
})
const rows = computed(() => views.data.value ?? [])
const sorted = (query: string): string => {
  const given = new URLSearchParams(query)
  given.sort()
  return given.toString()
}
const open = computed(() => rows.value.find((one) => sorted(one.query) === sorted(props.query)))
const saving = ref(false)
const name = ref('')
const shared = ref(false)
const save = useAction(async () => {
  const body = { name: name.value, query: props.query, shared: shared.value, list: 'ideas' }
  const same = rows.value.find((one) => one.mine && one.name === name.value.trim())
  if (same) await ask(api.PUT('/api/v1/views/{number}', { params: { path: { number: same.id } }, body }))
  else await ask(api.POST('/api/v1/views', { body }))
  saving.value = false
}, [['views']])
const drop = useAction(
  (number: number) => ask(api.DELETE('/api/v1/views/{number}', { params: { path: { number } } })),
  [['views']],
)
function begin() {
  saving.value = !saving.value
  name.value = open.value?.mine ? open.value.name : ''
  shared.value = open.value?.mine ? open.value.shared : false
}
</script>

<template>
  <div class="stack tight">
    <p v-if="rows.length || query" class="row" role="group" aria-label="Saved views">
      <el-button
        v-for="one in rows"
        :key="one.id"
        class="chip"
        :class="{ on: open?.id === one.id }"
        :title="one.mine ? (one.shared ? 'yours, shared' : 'yours') : `shared by ${one.person}`"
        @click="emit('open', one.query)"
      >
        {{ one.name }}<span v-if="!one.mine" class="quiet"> · {{ one.person }}</span>
      </el-button>
      <el-button v-if="query && !open" :aria-expanded="saving" link type="primary" @click="begin">
        Save this view
      </el-button>
      <template v-if="open?.mine">
        <el-button :aria-expanded="saving" link type="primary" @click="begin"
          >Change “{{ open.name }}”</el-button
        >
        <el-button link type="danger" @click="drop.go(open.id)">Take it away</el-button>
      </template>
    </p>
    <form v-if="saving" class="note row top" @submit.prevent="save.go()">
      <Field v-slot="{ id }" label="Name of the view" :fault="faultOf(save.error.value, 'name')">
        <el-input :id="id" v-model="name" maxlength="80" style="--chars: 28" />
      </Field>
      <el-checkbox v-model="shared" class="share">everyone who sees ideas may use it</el-checkbox>
      <p class="row share">
        <el-button :disabled="save.busy.value || !name.trim()" type="primary" native-type="submit"
          >Save</el-button
        >
        <el-button @click="saving = false">Leave it</el-button>
      </p>
    </form>
    <Problem :error="save.error.value ?? drop.error.value" :fields="['name']" />
  </div>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.share {
  padding-top: 21px;
}
</style>
