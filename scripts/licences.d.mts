import type { Plugin } from 'vite'

export function licences(own: string, always?: readonly string[]): { inWorkers: Plugin; inPage: Plugin }
