import { z } from 'zod'
import { Key, Version } from './primitives'

export const Allocate = z.object({ key: Key, version: Version })
export const Ship = Allocate
