import { expect, it } from 'vitest'
import { addressOf, isPublic } from './outside'

it.each([
  ['20.30.40.50', true],
  ['2a00:1::1', true],
  ['127.0.0.1', false],
  ['10.1.2.3', false],
  ['169.254.169.254', false],
  ['0.0.0.0', false],
  ['::1', false],
  ['::127.0.0.1', false],
  ['::ffff:127.0.0.1', false],
  ['::ffff:0:127.0.0.1', false],
  ['64:ff9b::7f00:1', false],
  ['2002:7f00:1::', false],
  ['2001:0:7f00:1::', false],
  ['fe80::1', false],
  ['fd00::1', false],
  ['ff02::1', false],
])('%s lies on the public internet: %s', async (address, is) => {
  expect(isPublic(address)).toBe(is)
  const host = address.includes(':') ? `[${address}]` : address
  const found = await addressOf(new URL(`http://${host}/`), () => false)
  expect(found.address !== null).toBe(is)
})
