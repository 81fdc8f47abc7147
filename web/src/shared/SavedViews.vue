<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import FormEnd from '@/shared/FormEnd.vue'
import Field from '@/shared/Field.vue'
import { isPending, useSoon } from './undo'

/** Saved views of the list: filters, order and columns under a name, one's own and what others share. */
const props = defineProps<{ of: string; query: string }>()
const emit = defineEmits<{ open: [query: string] }>()
const views = useQuery({
  queryKey: ['views', props.of],
  queryFn: () => ask(api.GET('/api/v1/views/{of}', { params: { path: { of: props.of } } })),
})
const rows = computed(() => (views.data.value ?? []).filter((one) => !isPending(about(one.id))))
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
  const body = { name: name.value, query: props.query, shared: shared.value, list: props.of }
  const same = rows.value.find((one) => one.mine && one.name === name.value.trim())
  if (same) await ask(api.PUT('/api/v1/views/{number}', { params: { path: { number: same.id } }, body }))
  else await ask(api.POST('/api/v1/views', { body }))
  saving.value = false
}, [['views']])
const soon = useSoon()
const about = (number: number) => `view-${number}`
function drop(one: { id: number; name: string }) {
  const params = { path: { number: one.id } }
  soon(`The view “${one.name}” is taken away`, about(one.id), (init) =>
    ask(api.DELETE('/api/v1/views/{number}', { params, ...init })),
  )
}
function begin() {
  saving.value = !saving.value
  name.value = open.value?.mine ? open.value.name : ''
  shared.value = open.value?.mine ? open.value.shared : false
}
</script>

<template>
  <el-popover v-if="rows.length || query" trigger="click" width="330" @hide="saving = false">
    <template #reference>
      <el-button link type="primary" class="views">{{
        open ? `View: ${open.name}` : 'Saved views'
      }}</el-button>
    </template>
    <div class="stack tight">
      <p v-if="!rows.length" class="quiet">None yet. A view keeps filters, order and columns under a name.</p>
      <el-button
        v-for="one in rows"
        :key="one.id"
        class="view"
        link
        type="primary"
        :aria-pressed="open?.id === one.id"
        @click="emit('open', one.query)"
      >
        {{ one.name
        }}<span class="quiet">{{
          one.mine ? (one.shared ? ', yours and shared' : '') : `, shared by ${one.person}`
        }}</span>
      </el-button>
      <p v-if="!saving" class="row">
        <el-button v-if="query && !open" @click="begin">Save this view</el-button>
        <template v-if="open?.mine">
          <el-button @click="begin">Change “{{ open.name }}”</el-button>
          <el-button link type="danger" @click="drop(open)">Take it away</el-button>
        </template>
      </p>
      <form v-else class="stack tight" @submit.prevent="save.go()">
        <Field v-slot="{ id }" label="Name of the view" :fault="faultOf(save.error.value, 'name')">
          <el-input :id="id" v-model="name" maxlength="80" style="--chars: 28" />
        </Field>
        <el-checkbox v-model="shared">everyone who sees the list may use it</el-checkbox>
        <FormEnd
          action="Save"
          leave="Cancel"
          :busy="save.busy.value"
          :error="save.error.value"
          :fields="['name']"
          :wait="name.trim() ? '' : 'Give it a name.'"
          @leave="saving = false"
        />
      </form>
    </div>
  </el-popover>
</template>

<style scoped>
.view {
  display: block;
  margin: 0;
  font-weight: 400;
  text-align: left;
}
</style>
