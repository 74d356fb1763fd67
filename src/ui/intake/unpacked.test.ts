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
  const orders = Array.from({ length: 3000 }, (_, i) => `${i},${(i * 7919) % 1000}.00`).join('\n')
  const two = archive({ 'rates.csv': 'date,base,quote,rate\n', 'orders.csv': orders })
  const cut = new File([two.slice(0, two.size / 2)], 'torn.zip')
  await expect(unpacked(cut)).rejects.toThrow('torn.zip')
})
