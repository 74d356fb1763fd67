import { readAddress, workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { listMoves } from '@/data/moves'
import { makeMoves } from '@/server/moves'
import { answering, Refused, readJson } from '../answering'

export const dynamic = 'force-dynamic'

/** The moves that were decided on, in their lists, the latest first. */
export const GET = answering(async () => {
  const { id } = await workspaceHere()
  return Response.json(await listMoves(sharedDatabase(), id))
})

/** Makes a plan into moves: `?from=&to=&network=&result=` are what it was planned by. */
export const POST = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { period, scope, result } = await readAddress(query)
  const by = { period, network: scope.network ?? '', result }
  const given = await readJson(request, 400_000)
  const made = await makeMoves(sharedDatabase(), await workspaceHere(), by, given, Date.now())
  if (typeof made === 'string') throw new Refused(400, made)
  return Response.json(made)
})
