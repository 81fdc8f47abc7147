<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useEdit } from '@/shared/useEdit'
import { useUnsaved } from '@/shared/unsaved'
import FormSheet from '@/shared/FormSheet.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import DayField from '@/shared/DayField.vue'

/** Puts a secret in, or another value for one; the value cannot be read afterwards. */
const props = defineProps<{ kinds?: Schemas['KindOut'][]; secret?: Schemas['SecretRow'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { me } = useMe()
const value = ref('')
const everywhere = computed(() => me.value?.everywhere.includes('secret.make') ?? false)
const areas = useQuery({
  queryKey: ['robots', 'tree'],
  queryFn: () => ask(api.GET('/api/v1/areas')),
  enabled: !props.secret,
})
const edit = useEdit(
  () => ({
    name: '',
    kind: props.kinds?.[0]?.kind ?? '',
    area: '' as number | '',
    about: props.secret?.about ?? '',
    expires: props.secret?.expires_on ?? '',
  }),
  ({ name, kind, area, about, expires }, version) => {
    const rest = { about, expires_on: expires || null }
    if (!props.secret)
      return ask(
        api.POST('/api/v1/secrets', {
          body: { name, kind, value: value.value, area: area || null, ...rest },
        }),
      )
    const params = { path: { number: props.secret.id }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/secrets/{number}', { params, body: { value: value.value || null, ...rest } }))
  },
  {
    what: 'The secret',
    place: () => `secret-${props.secret?.id ?? 0}`,
    version: () => props.secret?.version,
    after: () => ((value.value = ''), emit('done')),
  },
)
const { fields, save } = edit
// The value itself is never kept in the browser.
useUnsaved('The value of the secret', () => value.value !== '')
</script>

<template>
  <FormSheet
    :edit="edit"
    :action="secret ? 'Keep it' : 'Put it in'"
    leave="Cancel"
    :fields="['name', 'kind', 'area', 'value', 'expires_on', 'about']"
    :names="{ about: 'What it is for', expires: 'Good until' }"
    :wait="secret || value ? '' : 'Give its value first.'"
    @leave="emit('leave')"
  >
    <div v-if="!secret" class="row top">
      <Field
        v-slot="{ id }"
        label="Name"
        help="as package.toml names it"
        :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name" style="--chars: 24" placeholder="billing-login"
      /></Field>
      <Field v-slot="{ id }" label="What it is" :fault="faultOf(save.error.value, 'kind')"
        ><el-select :id="id" v-model="fields.kind"
          ><el-option v-for="one in kinds" :key="one.kind" :value="one.kind" :label="one.words" /></el-select
      ></Field>
      <Field v-slot="{ id }" label="Usable in" :fault="faultOf(save.error.value, 'area')"
        ><el-select :id="id" v-model="fields.area" :empty-values="[undefined]"
          ><el-option value="" :disabled="!everywhere" label="the whole company" />
          <el-option
            v-for="one in areas.data.value?.areas"
            :key="one.id"
            :value="one.id"
            :label="`${one.name} and below`" /></el-select
      ></Field>
    </div>
    <div class="row top">
      <Field
        v-slot="{ id }"
        :label="secret ? 'Another value' : 'Value'"
        :help="secret ? 'left empty, the one there is stays' : 'nobody can read it afterwards'"
        :fault="faultOf(save.error.value, 'value')"
        ><el-input :id="id" v-model="value" type="password" style="--chars: 28" autocomplete="new-password"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Good until"
        help="may stay open"
        :fault="faultOf(save.error.value, 'expires_on')"
        ><DayField :id="id" v-model="fields.expires"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="fields.about" style="--chars: 32"
      /></Field>
    </div>
  </FormSheet>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
