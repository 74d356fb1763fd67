import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { searchAds } from '@/data/workspace'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

const MOST = 60

/** Ads by a part of their name or ID, or of their campaign's name: `?q=`. */
export const GET = answering(async request => {
  const text = new URL(request.url).searchParams.get('q')?.trim().slice(0, 200) ?? ''
  return Response.json(await searchAds(sharedDatabase(), (await workspaceHere()).id, text, MOST))
})
