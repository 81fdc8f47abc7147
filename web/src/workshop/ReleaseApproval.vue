<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'
import { plural } from '@/shared/format'
import { useDraft } from '@/shared/unsaved'

/** A second person's yes to a release, where an area asks for one: who gave it, or who may, and to which secrets. */
const props = defineProps<{ release: number; name: string }>()
const path = computed(() => ({ params: { path: { number: props.release } } }))
const query = useQuery({
  queryKey: ['packages', 'approval', () => props.release],
  queryFn: () => ask(api.GET('/api/v1/releases/{number}/approval', path.value)),
})
const data = computed(() => query.data.value)
const secrets = ref<string[]>([])
const note = ref('')
const unsent = useDraft('The yes to a release', () => `release-${props.release}`, { note })
const approve = useAction(async () => {
  await ask(
    api.POST('/api/v1/releases/{number}/approve', {
      ...path.value,
      body: { secrets: secrets.value, note: note.value },
    }),
  )
  unsent.done()
})
const wait = computed(() =>
  (data.value?.new_secrets ?? []).some((one) => !secrets.value.includes(one))
    ? 'Say yes to each secret that it newly asks for.'
    : '',
)
const where = computed(() => data.value?.areas.join(', ') ?? '')
</script>

<template>
  <Loaded
    v-if="!data || data.areas.length || data.approved_at"
    :pending="query.isPending.value"
    :error="query.error.value"
  >
    <section v-if="data" class="stack tight">
      <h2>A second person’s yes</h2>
      <p v-if="data.approved_at">
        <Glyph state="met" word="approved" /> by {{ data.approved_by }}, <When :at="data.approved_at" />{{
          data.note ? `: ${data.note}` : '.'
        }}
      </p>
      <template v-else>
        <p>
          <Glyph state="unmet" word="not yet" /> {{ where }}
          {{ plural(data.areas.length, 'asks', 'ask') }} for it; until then no run of it starts there.
        </p>
        <form v-if="data.may" class="stack tight" @submit.prevent="approve.go()">
          <fieldset v-if="data.new_secrets.length">
            <legend>Secrets that it newly asks for</legend>
            <el-checkbox-group v-model="secrets">
              <el-checkbox v-for="one in data.new_secrets" :key="one" :value="one">{{ one }}</el-checkbox>
            </el-checkbox-group>
          </fieldset>
          <Field v-slot="{ id }" label="What you looked at" :fault="faultOf(approve.error.value, 'note')">
            <el-input
              :id="id"
              v-model="note"
              maxlength="500"
              placeholder="may be left empty"
              style="--chars: 60"
            />
          </Field>
          <FormEnd
            :action="`Say yes to ${name}`"
            :busy="approve.busy.value"
            :error="approve.error.value"
            :fields="['note', 'secrets']"
            :wait="wait"
          />
        </form>
        <p v-else class="quiet">{{ data.against }}</p>
      </template>
    </section>
  </Loaded>
</template>
