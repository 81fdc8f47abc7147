import { enableAutoUnmount } from '@vue/test-utils'
import { afterEach, beforeEach } from 'vitest'
import { writeAs } from '@/shared/format'

beforeEach(() => writeAs('en-GB'))
enableAutoUnmount(afterEach)
