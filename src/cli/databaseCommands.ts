import type { Command } from 'commander'
export function registerDatabaseCommands(_c: (n: string, d: string) => Command): void {}
