import { describeInterface } from '@/server/openapi'
import packageFile from '../../../../package.json'

/** What other programs can ask of the application. */
export const GET = (): Response => Response.json(describeInterface(packageFile.version))
