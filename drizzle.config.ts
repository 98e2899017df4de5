import { defineConfig } from 'drizzle-kit'

export default defineConfig({
  dialect: 'postgresql',
  casing: 'snake_case',
  schema: './server/database/schema/index.ts',
  out: './server/database/migrations',
})
