<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import PersonField from '@/shared/PersonField.vue'
import { useEdit } from '@/shared/useEdit'

/** What a page says, which inputs it asks for, who looks after it, and for whom it is. */
const props = defineProps<{ page: Schemas['PageSetup'] }>()
const router = useRouter()
const FIELDS = ['title', 'does', 'needs', 'asks', 'keeper_id', 'groups']
const NAMES = { title: 'its name', does: 'what it does', needs: 'what it needs' }
interface Fields {
  title: string
  does: string
  needs: string
  asks: string[]
  keeper_id: number | null
  for_all: boolean
  groups: number[]
}
const given = (): Fields => {
  const { title, does, needs, asks, keeper_id, for_all, groups } = props.page
  return { title, does, needs, asks, keeper_id: keeper_id ?? null, for_all, groups }
}
const edit = useEdit<Fields>(
  given,
  async (fields, version) => {
    const body = { ...fields, groups: fields.for_all ? [] : fields.groups }
    if (props.page.id === null || props.page.id === undefined) {
      const path = { number: props.page.routine_id }
      await ask(api.POST('/api/v1/routines/{number}/service-page', { params: { path }, body }))
      return
    }
    const header = { 'if-match': `"${version}"` }
    const path = { number: props.page.id }
    await ask(api.PUT('/api/v1/service-pages/{number}', { params: { path, header }, body }))
  },
  {
    what: 'The page for colleagues',
    place: () => `service-page-${props.page.routine_id}`,
    version: () => props.page.version,
    after: () => void router.replace(`/workshop/routines/${props.page.routine_id}/self-service`),
  },
)
const fields = computed(() => edit.fields.value)
const fault = (name: string) => faultOf(edit.save.error.value, name)
const off = computed(() => !props.page.may || (props.page.against.length > 0 && props.page.state !== 'open'))
const setSaid = (one: Schemas['PageInput']) => {
  if (one.needed) return one.set ? ', must be given; the set-up gives it to other starts' : ', must be given'
  return one.set ? ', begins as the set-up says' : ', may be left out'
}
const action = computed(() => {
  if (!props.page.id) return 'Publish it'
  return props.page.state === 'taken back' ? 'Publish it again so' : 'Keep the changes'
})
</script>

<template>
  <FormSheet
    v-if="edit.ready.value"
    :edit="edit"
    :action="action"
    :fields="FIELDS"
    :names="NAMES"
    says="Kept."
    :wait="off ? (page.may ? 'What stands against it is named above.' : 'You may not publish it.') : ''"
  >
    <Field v-slot="{ id, invalid }" label="Its name" :fault="fault('title')">
      <el-input :id="id" v-model="fields.title" :disabled="off" :aria-invalid="invalid" style="--chars: 40" />
    </Field>
    <Field
      v-slot="{ id, invalid }"
      label="What it does"
      help="in words of those who use it"
      :fault="fault('does')"
    >
      <el-input
        :id="id"
        v-model="fields.does"
        type="textarea"
        :rows="3"
        :disabled="off"
        :aria-invalid="invalid"
        style="--chars: 60"
      />
    </Field>
    <Field
      v-slot="{ id, invalid }"
      label="What it needs"
      help="what they must have at hand; may be left empty"
      :fault="fault('needs')"
    >
      <el-input
        :id="id"
        v-model="fields.needs"
        type="textarea"
        :rows="2"
        :disabled="off"
        :aria-invalid="invalid"
        style="--chars: 60"
      />
    </Field>
    <Field label="What it asks for" help="the others are as the routine's set-up says" :fault="fault('asks')">
      <p v-if="!page.inputs.length" class="quiet">The release takes no inputs.</p>
      <el-checkbox-group v-else v-model="fields.asks" aria-label="What it asks for" :disabled="off">
        <div v-for="one in page.inputs" :key="one.name">
          <el-checkbox :value="one.name"
            >{{ one.title }}<span class="quiet">{{ setSaid(one) }}</span></el-checkbox
          >
        </div>
      </el-checkbox-group>
    </Field>
    <Field label="Who looks after it" help="colleagues ask them" :fault="fault('keeper_id')">
      <PersonField v-model="fields.keeper_id" label="Who looks after it" />
    </Field>
    <Field label="For whom" :fault="fault('groups')">
      <el-radio-group v-model="fields.for_all" aria-label="For whom" :disabled="off">
        <el-radio :value="true">for all who sign in</el-radio>
        <el-radio :value="false">for groups</el-radio>
      </el-radio-group>
      <template v-if="!fields.for_all">
        <p v-if="!page.all_groups.length" class="quiet">
          There is no group yet. <router-link to="/house/people?tab=groups">Make one</router-link> first.
        </p>
        <el-checkbox-group v-else v-model="fields.groups" aria-label="Groups" :disabled="off">
          <el-checkbox v-for="one in page.all_groups" :key="one.id" :value="one.id">{{
            one.name
          }}</el-checkbox>
        </el-checkbox-group>
      </template>
    </Field>
  </FormSheet>
</template>
