<script setup lang="ts">
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Suggest from '@/shared/Suggest.vue'
import type { Self } from './self'

/** What everybody gives who comes in for the first time: a name, a password and a time zone. */
defineProps<{ error: unknown; nameLabel?: string; zoneHelp?: string }>()
const self = defineModel<Self>({ required: true })
const zones = Intl.supportedValuesOf('timeZone')
</script>

<template>
  <Field v-slot="{ id }" :label="nameLabel ?? 'Your name'" :fault="faultOf(error, 'name')"
    ><el-input :id="id" v-model="self.name" autocomplete="name" required
  /></Field>
  <slot />
  <Field
    v-slot="{ id }"
    label="A password"
    help="at least 12 characters; a few words are best"
    :fault="faultOf(error, 'password')"
    ><el-input :id="id" v-model="self.password" type="password" autocomplete="new-password" required
  /></Field>
  <Field v-slot="{ id }" label="Your time zone" :help="zoneHelp" :fault="faultOf(error, 'zone')"
    ><Suggest :id="id" v-model="self.zone" :known="zones" :chars="22" required
  /></Field>
</template>
