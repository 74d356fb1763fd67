import { strToU8, zipSync } from 'fflate'
import { expect, it } from 'vitest'
import { unpacked } from './unpacked'

const archive = (files: Record<string, string>, name = 'aequant.zip') =>
  new File(
    [zipSync(Object.fromEntries(Object.entries(files).map(([key, text]) => [key, strToU8(text)])))],
    name,
  )

it('gives the tables of an archive as they are, and names what is none', async () => {
  const orders = `order_id,total\n${'1,2.00\n'.repeat(200_000)}`
  const { files, others } = await unpacked(
    archive({ 'settings.json': '{}', 'records/orders.csv': orders, 'rates.csv': 'date,base,quote,rate\n' }),
  )
  expect(files.map(file => file.name)).toEqual(['orders.csv', 'rates.csv'])
  expect(await files[0]!.text()).toBe(orders)
  expect(others).toEqual(['settings.json'])
})
it('says of an archive what is wrong with it', async () => {
  await expect(unpacked(archive({ 'letter.docx': 'x' }, 'mail.zip'))).rejects.toThrow(
    'mail.zip holds no tables',
  )
  await expect(unpacked(new File(['no archive at all'], 'odd.zip'))).rejects.toThrow('odd.zip')
  const whole = new Uint8Array(
    await archive({ 'orders.csv': 'a'.repeat(5000) + Math.random() }).arrayBuffer(),
  )
  whole.fill(7, 60, 75)
  await expect(unpacked(new File([whole], 'torn.zip'))).rejects.toThrow('torn.zip')
})
