import { guidePicture } from '@/server/guide'

/** A picture of the guide. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }) {
  const picture = await guidePicture((await params).name)
  return picture
    ? new Response(picture, { headers: { 'content-type': 'image/png', 'cache-control': 'max-age=3600' } })
    : new Response('There is no such picture.', { status: 404 })
}
