import { sharedDatabase } from '@/data/connect'
import { findByText } from '@/server/find'
import { workspaceHere } from '../../frame'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** Ads, orders, saved links and rules by a part of their name or ID: `?q=`. */
export const GET = answering(async request => {
  const text = new URL(request.url).searchParams.get('q')?.trim().slice(0, 200) ?? ''
  return Response.json(await findByText(sharedDatabase(), (await workspaceHere()).id, text))
})
