#!/usr/bin/env node
// Starts the command line. The sources are TypeScript; tsx runs them as they are.
import { register } from 'tsx/esm/api'

register()
await import('./main.ts')
