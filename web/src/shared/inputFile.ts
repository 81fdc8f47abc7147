import { inject, provide, type InjectionKey } from 'vue'
import { api, ask, type Schemas } from '@/api/client'

type Keep = (file: File) => Promise<Schemas['InputFile']>

const KEEP: InjectionKey<Keep> = Symbol('where files that are inputs are kept')

/** A file as the body of a request. */
export function formOf(file: File) {
  const form = new FormData()
  form.set('file', file)
  return { body: form as unknown as { file: string }, bodySerializer: () => form }
}

const byPermission: Keep = (file) => ask(api.POST('/api/v1/routines/input-files', formOf(file)))

/** Says where the files of the forms below are kept, for people who start no routines elsewhere. */
export const keepInputFilesBy = (keep: Keep) => provide(KEEP, keep)
export const useInputFiles = () => inject(KEEP, byPermission)
