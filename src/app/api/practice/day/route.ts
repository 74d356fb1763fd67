import { practiceDaysSchema, practiceGoesOn } from '@/server/moves'
import { hasPractice } from '@/server/practice'
import { answering, Refused, readJson } from '../../answering'

export const dynamic = 'force-dynamic'

/** Lets the practice market go on by some days. Of the demo alone. */
export const POST = answering(async request => {
  if (!hasPractice()) throw new Refused(404, 'There is no practice market here: it comes with the demo.')
  const read = practiceDaysSchema.safeParse(await readJson(request, 1000))
  if (!read.success) throw new Refused(400, 'Say by how many days, 1 to 14: { "days": 7 }.')
  const told = await practiceGoesOn(read.data.days)
  if (typeof told === 'string') throw new Refused(502, told)
  return Response.json(told)
})
