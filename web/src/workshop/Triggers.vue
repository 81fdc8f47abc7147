<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/app/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** Starts on the clock: each reads as a sentence and lists its next five times. */
const props = defineProps<{ routine: number; triggers: Schemas['Trigger'][]; change: boolean }>()
const { zone } = useMe()
const open = ref(false)
const expression = ref('30 7 * * 1-5')
const place = ref('')
const onClosed = ref<'run' | 'skip' | 'next' | 'previous'>('run')
const inZone = computed(() => place.value || zone.value)
const given = refDebounced(
  computed(() => ({ expression: expression.value.trim(), zone: inZone.value, on_closed: onClosed.value })),
  250,
)
const preview = useQuery({
  queryKey: ['routines', 'preview', given],
  enabled: () => open.value && given.value.expression !== '',
  retry: false,
  queryFn: () => ask(api.POST('/api/v1/clock/preview', { body: given.value })),
})
const add = useAction(async () => {
  await ask(
    api.POST('/api/v1/routines/{number}/triggers', {
      params: { path: { number: props.routine } },
      body: { expression: expression.value.trim(), zone: inZone.value, on_closed: onClosed.value },
    }),
  )
  open.value = false
})
const end = useAction((trigger: number) =>
  ask(
    api.DELETE('/api/v1/routines/{number}/triggers/{trigger}', {
      params: { path: { number: props.routine, trigger } },
    }),
  ),
)
const examples = [
  { code: '30 7 * * 1-5', words: 'Monday to Friday at 07:30' },
  { code: '*/15 8-17 * * *', words: 'every 15 minutes of the working hours' },
  { code: '0 18 LW * *', words: 'last working day of the month, 18:00' },
]
const names = ['expr', 'minute', 'hour', 'day of month', 'month', 'day of week']
const fault = computed(() => names.map((name) => faultOf(preview.error.value, name)).find(Boolean))
</script>

<template>
  <section class="stack tight">
    <h2>Starts on the clock</h2>
    <p v-if="!triggers.length && !open" class="quiet">None; it starts by hand only.</p>
    <table v-if="triggers.length" class="ledger">
      <tbody>
        <tr v-for="one in triggers" :key="one.id">
          <td>
            <b>{{ one.sentence }}</b>
            <div class="quiet">
              next:
              <template v-for="(at, n) in one.times" :key="at"
                ><template v-if="n">, </template><When :at="at"
              /></template>
              · <code>{{ one.expression }}</code>
            </div>
          </td>
          <td class="num"><button v-if="change" class="plain bad" @click="end.go(one.id)">End it</button></td>
        </tr>
      </tbody>
    </table>
    <Problem :error="end.error.value" />
    <form v-if="open" class="stack tight adding" @submit.prevent="add.go()">
      <div class="row top">
        <Field v-slot="{ id, invalid }" label="Minute, hour, day of month, month, day of week" :fault="fault">
          <input :id="id" v-model="expression" type="text" size="26" :aria-invalid="invalid" />
        </Field>
        <Field v-slot="{ id }" label="Zone" :fault="faultOf(preview.error.value, 'zone')">
          <input :id="id" v-model="place" type="text" size="18" :placeholder="zone" />
        </Field>
        <Field v-slot="{ id }" label="On closed days">
          <select :id="id" v-model="onClosed">
            <option value="run">start all the same</option>
            <option value="skip">do not start</option>
            <option value="next">start on the next open day</option>
            <option value="previous">start on the open day before</option>
          </select>
        </Field>
      </div>
      <div v-if="preview.data.value && !preview.error.value" class="note" role="status">
        <b>{{ preview.data.value.sentence }}</b>
        <div>
          Next five:
          <template v-for="(at, n) in preview.data.value.times" :key="at"
            ><template v-if="n">; </template><When :at="at"
          /></template>
        </div>
      </div>
      <p class="quiet">
        For example
        <template v-for="(one, n) in examples" :key="one.code"
          ><template v-if="n">, </template
          ><button type="button" class="plain" @click="expression = one.code">{{ one.code }}</button>
          {{ one.words }}</template
        >
      </p>
      <Problem :error="add.error.value" />
      <p class="row">
        <button class="filled" :disabled="!preview.data.value || !!preview.error.value || add.busy.value">
          Start it so
        </button>
        <button type="button" @click="open = false">Leave it</button>
      </p>
    </form>
    <p v-else-if="change"><button @click="open = true">Add a start on the clock</button></p>
  </section>
</template>

<style scoped>
.top {
  align-items: flex-start;
  gap: 20px;
}
.adding .plain {
  padding: 0;
}
</style>
