import type { Command } from 'commander'

/** The commands that need the database; its packages are loaded only when one of them runs. */
export function registerDatabaseCommands(command: (name: string, description: string) => Command): void {
  command('import', "take a folder of exchange files into the app's database")
    .requiredOption('--dir <folder>', 'folder of exchange files')
    .option('--json', 'counts as JSON')
    .action(async options => (await import('./databaseWork')).importFolder(options))

  command('export', "write the app's database as exchange files")
    .requiredOption('--dir <folder>', 'where to')
    .option('--force', 'replace files that are there')
    .option('--json', 'counts as JSON')
    .action(async options => (await import('./databaseWork')).exportFolder(options))
}
