import { execFileSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import AxeBuilder from '@axe-core/playwright'
import { demoFor } from './application'
import { expect, type Locator, type Page, test } from './test'

// As a program, its clicks would count nowhere.
test.use({ userAgent: 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0' })

const app = demoFor()

const tree = (page: Page) => page.getByRole('region', { name: 'Campaigns, ad sets and ads' })
const panel = (page: Page, name: string) => page.getByRole('region', { name })

/** Clicks an ad of the practice Kelpie, and waits for it in Arrivals. */
async function clickAndSee(
  page: Page,
  { ad, value, press }: { ad: string; value: string; press: (what: Locator) => Promise<void> },
) {
  await page.goto(app.norrfeed.replace('norrfeed', 'kelpie'))
  await press(page.getByRole('link', { name: `See ${ad}`, exact: true }))
  await expect(page).toHaveURL(/aq_click=/)
  await page.goto(`${app.origin}/links/arrivals`)
  const section = page.getByRole('region', { name: 'Kelpie', exact: true })
  await press(section.getByRole('button', { name: 'offer', exact: true }))
  await expect(section).toContainText(value)
}
const byMouse = (what: Locator) => what.click({ timeout: 60_000 })
const byKeyboard = (what: Locator) => what.press('Enter', { timeout: 60_000 })

test('a new Kelpie campaign is tagged from nothing, by mouse, and its click is seen in Arrivals', async ({
  page,
}) => {
  await page.goto(`${app.origin}/links`)
  await page.getByRole('button', { name: 'new ad' }).click()
  const form = panel(page, 'A new ad')
  await form.getByLabel('Network').selectOption('kelpie')
  for (const [what, name, id] of [
    ['campaign', 'Winter looms', 'kc900'],
    ['ad group', 'Small looms', 'ks901'],
    ['ad', 'A loom for winter', 'ka902'],
  ] as const) {
    await form.getByLabel(`Name of the ${what}`, { exact: true }).fill(name)
    await form.getByLabel(`ID of the ${what}`, { exact: true }).fill(id)
  }
  await form.getByLabel('Landing page').fill(`${app.norrfeed.replace('norrfeed', 'shop.tarnbrook')}/kits`)
  await form.getByRole('button', { name: 'Add the ad' }).click()
  await expect(page.getByText('Kelpie › Winter looms › Small looms › A loom for winter')).toBeVisible()

  await page.getByLabel('New parameter').fill('offer')
  await page.getByLabel('Set the new one at').selectOption('campaign')
  await page.getByRole('button', { name: 'Add parameter' }).click()
  await page.getByLabel('offer, text').fill('winter-')
  await page.getByRole('button', { name: 'Add a token to offer' }).click()
  await page.getByPlaceholder('Which value?').fill('ad name')
  await expect(page.getByRole('option', { name: /Kelpie has none: use ad ID/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('field extra parameters')).toContainText('offer=winter-%adno%')
  await page.getByRole('button', { name: 'Put it on the practice Kelpie' }).click()
  await expect(page.getByText('The practice Kelpie has it.')).toBeVisible()

  await page.getByRole('button', { name: /^Try it/ }).click()
  await expect(panel(page, 'Try the link')).toContainText('reached in 2 hops, with every parameter')
  await clickAndSee(page, { ad: 'A loom for winter', value: 'winter-ka902', press: byMouse })
})

test('the same by keyboard alone', async ({ page }) => {
  await page.goto(`${app.origin}/links`)
  await expect(tree(page)).toBeVisible()
  await page.keyboard.press('n')
  const form = panel(page, 'A new ad')
  await form.getByLabel('Network').focus()
  await page.keyboard.type('Kelp')
  for (const text of ['Spring looms', 'kc910', 'Light looms', 'ks911', 'A loom for spring', 'ka912']) {
    await page.keyboard.press('Tab')
    await page.keyboard.type(text)
  }
  await page.keyboard.press('Tab')
  await page.keyboard.type(`${app.norrfeed.replace('norrfeed', 'shop.tarnbrook')}/kits`)
  await page.keyboard.press('Enter')
  await expect(page.getByText('Kelpie › Spring looms › Light looms › A loom for spring')).toBeVisible()
  await page.getByLabel('New parameter').focus()
  await page.keyboard.type('offer')
  await page.keyboard.press('Tab')
  await page.keyboard.type('ad')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('offer, text')).toBeFocused()
  await page.keyboard.type('spring')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('field extra parameters')).toContainText('offer=spring')
  await page.getByRole('button', { name: 'Put it on the practice Kelpie' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('The practice Kelpie has it.')).toBeVisible()
  await clickAndSee(page, { ad: 'A loom for spring', value: 'spring', press: byKeyboard })
})

test('a messy address from anywhere is taken apart and used, and nothing in it runs', async ({ page }) => {
  await page.goto(`${app.origin}/links?ad=norrfeed/na102`)
  await expect(page.getByTestId('preview')).toBeVisible()
  await page.keyboard.press('p')
  const paste = panel(page, 'Paste an address')
  const address = paste.getByLabel('A tagged address from anywhere')
  await address.fill('javascript:document.title="owned"')
  await expect(paste.getByRole('alert')).toContainText('no web address')
  await address.fill(
    ' "https://tarnbrook.example/kits?lang=pt&amp;utm_campaign=%5B%5Bcampaign_title%5D%5D\n  &amp;utm_content=<img src=x onerror="document.title=1">-[[ad_ref]]?spot=[[spot]]#p1" ',
  )
  await expect(paste).toContainText('3 tokens recognised')
  await expect(paste).toContainText('a second question mark read as &')
  await expect(paste.getByTestId('taken destination')).toHaveText('https://tarnbrook.example/kits?lang=pt#p1')
  await paste.getByLabel('Level to set it at').selectOption('campaign')
  await paste.getByRole('button', { name: /^Use it for/ }).click()
  await expect(page.getByLabel('Leads to')).toHaveValue('https://tarnbrook.example/kits?lang=pt#p1')
  await expect(page.getByTestId('field parameters')).toContainText('-[[ad_ref]]')
  expect(await page.title()).toBe('Links · Aequant')
  const { 'content-security-policy': policy } = (await page.request.get(`${app.origin}/links`)).headers()
  expect(policy).toContain("default-src 'self'")
  await page.keyboard.press('u')
  await expect(page.getByTestId('field parameters')).not.toContainText('-[[ad_ref]]')
})

test('a network nobody has heard of gets a profile, and its ads their links', async ({ page }) => {
  await page.goto(`${app.origin}/links/profiles`)
  await page.getByRole('button', { name: 'New network' }).click()
  await page.getByLabel('Its name').fill('Fernlight')
  await page.getByRole('button', { name: 'Begin it' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('How Fernlight writes links')
  await page.getByLabel('opening characters').fill('((')
  await page.getByLabel('closing characters').fill('))')
  await page.getByLabel('Word for ad name').fill('advert')
  await page.getByLabel('opening characters').fill('(?')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByText(/would break the address apart/)).toBeVisible()
  await page.getByLabel('opening characters').fill('((')
  await expect(page.getByTestId('example field').first()).toContainText('ad_name=((advert))')
  await expect(page.getByTestId('example preview')).toContainText('ad_name=Oak%20%26%20wool')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Fernlight', exact: true })).toBeVisible()
  const exported = await page.request.get(`${app.origin}/api/profiles/fernlight`)
  expect((await exported.json()).dialect.tokens).toEqual({ 'ad.name': 'advert' })

  await page.goto(`${app.origin}/links?ad=norrfeed/na102`)
  await page.getByRole('button', { name: 'new ad' }).click()
  const form = panel(page, 'A new ad')
  await form.getByLabel('Network').selectOption('fernlight')
  for (const [what, id] of [
    ['campaign', 'f1'],
    ['ad set', 'f2'],
    ['ad', 'f3'],
  ] as const) {
    await form.getByLabel(`Name of the ${what}`, { exact: true }).fill(`Fern ${what}`)
    await form.getByLabel(`ID of the ${what}`, { exact: true }).fill(id)
  }
  await form.getByLabel('Landing page').fill('https://tarnbrook.example/kits')
  await form.getByRole('button', { name: 'Add the ad' }).click()
  await expect(page.getByText('Fernlight › Fern campaign › Fern ad set › Fern ad')).toBeVisible()
  await page.keyboard.press('f')
  await expect(page.getByTestId('field address')).toContainText('utm_source=fernlight')
})

test('a profile goes out as JSON and comes in again; a file that is none says so and changes nothing', async ({
  page,
}) => {
  await page.goto(`${app.origin}/links/profiles`)
  const saved = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Parkfold as JSON' }).click()
  const profile = JSON.parse(readFileSync(await (await saved).path(), 'utf8'))
  const file = (name: string, text: string) => ({
    name,
    mimeType: 'application/json',
    buffer: Buffer.from(text),
  })
  const choose = page.getByLabel('Import JSON')
  await choose.setInputFiles(file('photo.json', '\u0089PNG'))
  await expect(page.getByRole('status')).toContainText('photo.json was not read')
  await choose.setInputFiles(file('list.json', '[1]'))
  await expect(page.getByRole('status')).toContainText('it holds no profile. Nothing has changed.')
  const mine = { ...profile, id: 'parkmoor', name: 'Parkmoor', dialect: { ...profile.dialect, open: 'a b' } }
  await choose.setInputFiles(file('parkmoor.json', JSON.stringify(mine)))
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByText('would break the address apart')).toBeVisible()
  await page.getByLabel('opening characters').fill('{{')
  await page.getByLabel('closing characters').fill('}}')
  await page.getByRole('button', { name: 'As JSON' }).click()
  await expect(page.getByLabel('The profile as JSON')).toHaveValue(/"open": "\{\{"/)
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('row', { name: /Parkmoor/ })).toContainText('campaign › bid')
  const schema = await (await page.request.get(`${app.origin}/api/profile-schema.json`)).json()
  expect(Object.keys(profile).filter(member => !(member in schema.properties))).toEqual([])
})

test('parameters are put in another order by keyboard and by mouse, and the address follows', async ({
  page,
}) => {
  await page.goto(`${app.origin}/links?ad=mothwire/ma103`)
  const address = page.getByTestId('field link')
  await expect(address).toContainText('utm_source=mothwire&utm_medium=paid-social&utm_campaign=')
  const medium = page.getByRole('button', { name: 'Move utm_medium' })
  await medium.press('Space')
  await expect(page.getByText('was moved over droppable area utm_medium')).toBeAttached()
  await medium.press('ArrowUp')
  await expect(page.getByText('was moved over droppable area utm_source')).toBeAttached()
  await medium.press('Space')
  await expect(address).toContainText('?utm_medium=paid-social&utm_source=mothwire&')
  const to = page.getByRole('button', { name: 'Move utm_medium' })
  const dragged = page.getByText('utm_content was moved over droppable area utm_medium')
  // A slow page may still be putting its rows in order when the button goes down, and hold nothing then.
  await expect(async () => {
    await page.keyboard.press('Escape')
    await page.mouse.up()
    await page.getByRole('button', { name: 'Move utm_content' }).hover()
    const target = (await to.boundingBox())!
    await page.mouse.down()
    for (const aside of [-6, 0])
      await page.mouse.move(target.x + target.width / 2, target.y + target.height / 2 + aside, { steps: 4 })
    await expect(dragged).toBeAttached({ timeout: 2000 })
  }).toPass()
  await page.mouse.up()
  await expect(address).toContainText('?utm_content=')
  await page.keyboard.press('u')
  await page.keyboard.press('u')
  await expect(address).toContainText('?utm_source=mothwire&utm_medium=')
})

test('the command line gives the same link as the application', async ({ page }) => {
  await page.goto(`${app.origin}/links?ad=whyfold/wa203`)
  await expect(page.getByTestId('preview')).toContainText('utm_campaign=Taken%20over')
  const spec = join(app.folder, 'link.json')
  const account = {
    utm_source: 'whyfold',
    utm_campaign: '{campaign.name}',
    utm_content: '{ad.id}',
    topic: '{topic}',
  }
  const sample = {
    campaign: { id: 'wc200', name: 'Taken over from the agency' },
    ad_set: { id: 'ws201', name: 'Questions about looms' },
    ad: { id: 'wa203', name: 'Weft and wit' },
    topic: 'weaving',
  }
  const destination = await page.getByLabel('Leads to').inputValue()
  // An ad that leads straight to its page carries the code that it stands for.
  const [, code] = /aq_code=([\w-]+)/.exec(await page.getByTestId('field whole address').innerText()) ?? []
  expect(code).toBeDefined()
  writeFileSync(
    spec,
    JSON.stringify({
      profile: 'whyfold',
      destination,
      plan: { account },
      sample,
      hosts: ['tarnbrook.example'],
      code,
    }),
  )
  const printed = execFileSync('node', ['scripts/aequant.mjs', 'aequant', 'link', '--spec', spec, '--json'], {
    encoding: 'utf8',
  })
  const link = JSON.parse(printed)
  const shown = async (id: string) => (await page.getByTestId(id).innerText()).trim()
  expect(link.fields).toEqual({ page: await shown('field page'), tracking: await shown('field tracking') })
  expect(link.address).toBe(await shown('field whole address'))
  expect(link.preview).toBe(await shown('preview'))
  expect(link.findings.map((f: { code: string }) => f.code)).toContain('parameters_after_fragment')
  await expect(
    page.getByRole('heading', { name: `${link.findings.length} findings`, exact: true }),
  ).toBeVisible()
})

test('many ads are changed at once, seen before, and undone in one step', async ({ page }) => {
  await page.goto(`${app.origin}/links?network=norrfeed`)
  await expect(tree(page)).toBeVisible()
  await page.keyboard.press('Shift+X')
  await expect(page.getByRole('heading', { name: /ads are marked/ })).toBeVisible()
  await page.getByLabel('Parameter', { exact: true }).fill('season')
  await page.getByLabel('New value, text').fill('winter')
  await page.getByLabel('Level of the change').selectOption('ad')
  await expect(page.getByText('sends ads to review at Norrfeed')).toBeVisible()
  await page.getByRole('button', { name: 'Do it at ad set level instead' }).click()
  const change = page.getByRole('button', { name: /^Change \d+ ads?$/ })
  await expect(page.getByRole('region', { name: 'What would change' })).toContainText(
    'season: not set → winter',
  )
  await change.click()
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'CSV for upload' }).click()
  const csv = readFileSync(await (await saved).path(), 'utf8')
  // The file has what was changed a moment ago.
  expect(csv.match(/season=winter/g)).toHaveLength(17)
  await expect(page.getByText(/links\.csv holds 17 ads/)).toBeVisible()
  await expect(page.getByText('Nothing would change')).toBeVisible()
  await page.getByRole('heading', { name: /ads are marked/ }).click()
  await page.keyboard.press('u')
  await expect(page.getByText(/The last \d+ changes are undone/)).toBeVisible()
  await expect(change).toBeEnabled()
})

test('picking a token for many ads changes none of them; a parameter that is inherited is removed below only', async ({
  page,
}) => {
  await page.goto(`${app.origin}/links?network=kelpie`)
  await expect(tree(page)).toBeVisible()
  await page.keyboard.press('Shift+X')
  await page.getByLabel('Parameter', { exact: true }).fill('utm_medium')
  await page.getByRole('button', { name: 'Add a token to New value' }).click()
  await page.getByRole('option', { name: /^ad group ID/ }).click()
  await expect(page.getByRole('region', { name: 'What would change' })).toContainText(
    'utm_medium: not set → ad group ID',
  )
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeHidden()
  await page.getByRole('button', { name: 'Remove ad group ID' }).click()
  await expect(page.getByText('Say what to do')).toBeVisible()
  await page.getByLabel('What to do').selectOption('remove a parameter that is inherited')
  await page.getByLabel('Level of the change').selectOption('campaign')
  await page.getByRole('button', { name: /^Change \d+ ads?$/ }).click()
  await page.getByRole('button', { name: /^Unmark all/ }).click()
  await expect(page.getByRole('button', { name: 'utm_medium at campaign: removed here' })).toBeVisible()
  await expect(page.getByTestId('field extra parameters')).not.toContainText('utm_medium')
  // A look at another station forgets no step.
  await page.getByRole('link', { name: 'Library' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No saved link is for this network')
  await page.getByRole('link', { name: 'Tag plan' }).click()
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeVisible()
  await page.keyboard.press('u')
  await page.goto(`${app.origin}/links?ad=kelpie/ka102`)
  await expect(page.getByTestId('field extra parameters')).toContainText('utm_medium=paid-search')
})

test('the tree folds to campaigns and opens again, and steps over what is folded', async ({ page }) => {
  await page.goto(`${app.origin}/links?ad=kelpie/ka102`)
  await expect(page.getByText('Kelpie › Brand › Tarnbrook › Brand headline A')).toBeVisible()
  const line = (name: string) => tree(page).getByRole('button', { name, exact: true })
  const [brand, ad] = [line('Brand'), line('Brand headline A')]
  await page.keyboard.press('h')
  await expect(brand).toHaveAttribute('aria-expanded', 'false')
  await expect(ad).toBeHidden()
  await page.keyboard.press('j')
  await expect(page.getByText('Kelpie › Loom kits search')).toBeVisible()
  await page.keyboard.press('k')
  await expect(page.getByText('Guildpost › Schools')).toBeVisible()
  await brand.click()
  await expect(ad).toBeVisible()
  await page.getByRole('button', { name: 'fold all' }).click()
  await expect(tree(page).getByRole('button', { name: 'Hands at the loom' })).toBeHidden()
  await page.keyboard.press('Shift+H')
  await expect(ad).toBeVisible()
})

test('trying a link says which hop loses, doubles or encodes again, and what is not where it leads', async ({
  page,
}) => {
  const tried = panel(page, 'Try the link')
  for (const [ad, says] of [
    ['guildpost/ga203', 'reached in 2 hops, with every parameter, and its offer in 2 hops more'],
    ['whyfold/wa302', 'utm_campaign is lost between hop 1 and 2'],
    ['whyfold/wa303', 'utm_source stands twice after hop 1'],
    ['whyfold/wa304', 'utm_campaign is encoded a second time between hop 1 and 2'],
    ['whyfold/wa305', 'The landing page answers 404'],
    ['whyfold/wa306', 'no place called #spinning'],
  ]) {
    await page.goto(`${app.origin}/links?ad=${ad}`)
    await expect(page.getByTestId('preview')).toBeVisible()
    await page.keyboard.press('t')
    await expect(tried).toContainText(says!)
  }
})

test('a host that nobody listed is not asked until somebody lists it', async ({ page }) => {
  await page.goto(`${app.origin}/links?ad=whyfold/wa214`)
  await expect(page.getByText(/tarnbrok\.example is not among your hosts/)).toBeVisible()
  await page.keyboard.press('t')
  const tried = panel(page, 'Try the link')
  await expect(tried).toContainText('tarnbrok.example is not among your hosts, so it was not asked')
  await tried.getByRole('button', { name: 'List tarnbrok.example' }).click()
  await expect(tried).toContainText('tarnbrok.example cannot be found')
  await expect(page.getByText(/tarnbrok\.example is not among your hosts/)).toBeHidden()
  await page.goto(`${app.origin}/links/names`)
  const hosts = page.getByRole('textbox', { name: 'Hosts that ads may lead to' })
  await expect(hosts).toHaveValue(/tarnbrok\.example$/)
  await hosts.fill('https://tarnbrook.example/')
  await page.getByRole('button', { name: 'Keep the hosts' }).click()
  await expect(page.getByText(/is no host: write it alone/)).toBeVisible()
  await hosts.fill('shop.tarnbrook.localhost\ncorvane.localhost\ntarnbrook.example')
  await page.getByRole('button', { name: 'Keep the hosts' }).click()
  await expect(page.getByText('Kept.')).toBeVisible()
})

test('a finding of the agency’s ads is mended with one key, undone with another', async ({ page }) => {
  await page.goto(`${app.origin}/links?ad=whyfold/wa202`)
  const page_ = page.getByLabel('Leads to')
  await expect(page_).toHaveValue('https://tarnbrook.example/kits?lang=pt?from=questions')
  await page.keyboard.press('f')
  await expect(page_).toHaveValue('https://tarnbrook.example/kits?lang=pt&from=questions')
  await page.keyboard.press('u')
  await expect(page_).toHaveValue('https://tarnbrook.example/kits?lang=pt?from=questions')
})

test('what opens beside the plan can be used by everybody: axe finds nothing serious', async ({ page }) => {
  const serious = async () =>
    (await new AxeBuilder({ page }).analyze()).violations
      .filter(v => v.impact === 'serious' || v.impact === 'critical')
      .map(v => `${v.id} ${v.nodes[0]?.html.slice(0, 160)}`)
  const link = page.getByTestId('preview')
  const opened: [path: string, open: () => Promise<void>][] = [
    [
      '/links?ad=norrfeed/na102&parameter=spot&level=ad',
      () => page.getByLabel('Add a token to spot').click(),
    ],
    ['/links?ad=norrfeed/na102', () => page.keyboard.press('n')],
    ['/links?ad=guildpost/ga203', () => page.keyboard.press('t')],
    ['/links?network=norrfeed', () => page.keyboard.press('Shift+X')],
    ['/links/library?ad=norrfeed/na102', async () => {}],
    ['/links/names', () => page.getByRole('button', { name: /product_audience/ }).click()],
    ['/links/profiles', () => page.getByRole('button', { name: 'Corvane', exact: true }).click()],
  ]
  for (const [path, open] of opened) {
    await page.goto(app.origin + path)
    await expect(path.startsWith('/links?') ? link : page.getByRole('heading', { level: 1 })).toBeVisible()
    await open()
    expect([path, await serious()]).toEqual([path, []])
  }
  await page.goto(`${app.origin}/links?ad=norrfeed/na102`)
  await expect(link).toBeVisible()
  await page.keyboard.press('p')
  await panel(page, 'Paste an address')
    .getByLabel('A tagged address from anywhere')
    .fill('tarnbrook.example/?utm_content=%kw%&amp;b=1?c=2')
  expect(await serious()).toEqual([])
})

test('a new ad goes where its campaign is already; a rule that is taken away can be brought back', async ({
  page,
}) => {
  await page.goto(`${app.origin}/links`)
  await page.getByRole('button', { name: 'new ad' }).click()
  const form = panel(page, 'A new ad')
  await form.getByLabel('Network').selectOption('parkfold')
  await expect(form.getByLabel(/^Name of the/)).toHaveCount(2)
  await form.getByLabel('Name of the campaign', { exact: true }).fill('looms_domains_2026-10')
  await expect(form.getByLabel('ID of the campaign', { exact: true })).toHaveValue('pc100')
  await form.getByLabel('Name of the campaign', { exact: true }).fill('looms_domains_2026-12')
  await expect(form.getByLabel('ID of the campaign', { exact: true })).toHaveValue('')
  await form.getByLabel('ID of the campaign', { exact: true }).fill('pc100')
  await form.getByLabel('Name of the bid', { exact: true }).fill('Loom names')
  await form.getByLabel('ID of the bid', { exact: true }).fill('pa199')
  await form.getByRole('button', { name: 'Add the ad' }).click()
  await expect(form.getByRole('alert')).toContainText('pc100 is the campaign looms_domains_2026-10')
  await form.getByLabel('ID of the campaign', { exact: true }).fill('pc199')
  await form.getByRole('button', { name: 'Add the ad' }).click()
  await expect(page.getByText('Parkfold › looms_domains_2026-12 › Loom names')).toBeVisible()

  await page.goto(`${app.origin}/links/names`)
  const rules = page.getByRole('button', { name: /product_audience_month/ })
  await rules.click()
  await panel(page, 'The naming rule').getByRole('button', { name: 'Take it away' }).click()
  await expect(rules).toBeHidden()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(rules).toBeVisible()
})

test('a saved link leads elsewhere without its code, and gets a cost of its own', async ({ page }) => {
  await page.goto(`${app.origin}/links/library`)
  await page.getByRole('button', { name: /^New link/ }).click()
  const form = panel(page, 'The link')
  await form.getByLabel('What it is').fill('Poster in the station')
  await form.getByLabel('Leads to').fill('https://tarnbrook.example/kits')
  await form.getByLabel('Short code').fill('poster')
  await form.getByLabel('Cost in EUR').fill('90.00')
  const yesterday = new Date(Date.now() - 86_400_000).toISOString().slice(0, 10)
  for (const end of ['First', 'Last']) {
    await form.getByLabel(`${end} day of the cost`).fill(yesterday)
    await form.getByLabel(`${end} day of the cost`).press('Enter')
  }
  const parameters = form.getByLabel(/^Parameters/)
  await parameters.fill('utm_source=poster\nutm_campaign station')
  await form.getByRole('button', { name: 'Keep the link' }).click()
  await expect(form.getByRole('alert')).toContainText(
    'Line 2 of the parameters, “utm_campaign station”, is no',
  )
  await parameters.fill('utm_source=poster\nutm_campaign=station')
  await form.getByRole('button', { name: 'Keep the link' }).click()
  const row = page.getByRole('row', { name: /Poster in the station/ })
  await expect(row).toContainText('90.00')
  await expect(form.getByRole('img', { name: /QR code of/ })).toBeAttached()
  // Its address and whether its page answers stand there as soon as it is saved.
  await expect(form).toContainText('/c/poster')
  await expect(panel(page, 'Its way')).toContainText('tarnbrook.example cannot be found')
  await form.getByLabel('Leads to').fill('https://tarnbrook.example/yarn')
  await form.getByRole('button', { name: 'Keep the link' }).click()
  await expect(form).toBeHidden()
  await expect(async () => {
    const answer = await page.request.get(`${app.collector}/c/poster`, { maxRedirects: 0 })
    expect(answer.headers().location).toMatch(/^https:\/\/tarnbrook\.example\/yarn\?/)
  }).toPass()
  await row.getByRole('button', { name: 'Poster in the station', exact: true }).click()
  await form.getByRole('button', { name: 'Undo' }).click()
  await expect(form.getByLabel('Leads to')).toHaveValue('https://tarnbrook.example/kits')
  await form.getByRole('button', { name: 'Bring back' }).click()
  await expect(form.getByRole('button', { name: 'Bring back' })).toHaveCount(2)
})

test('two who plan the same ads at once both find what they set', async ({ page, context }) => {
  const other = await context.newPage()
  for (const one of [page, other]) {
    await one.goto(`${app.origin}/links?ad=mothwire/ma102`)
    await expect(one.getByTestId('preview')).toBeVisible()
  }
  const set = async (one: Page, key: string, value: string) => {
    await one.getByLabel('New parameter').fill(key)
    await one.getByLabel('Set the new one at').selectOption('campaign')
    await one.getByRole('button', { name: 'Add parameter' }).click()
    const stored = one.waitForResponse(/links\/changes/)
    await one.getByLabel(`${key}, text`).fill(value)
    await stored
  }
  await set(page, 'theme', 'home')
  await set(other, 'tone', 'calm')
  const met = other.getByRole('alert').filter({ hasText: 'Meanwhile somebody else changed the same' })
  await expect(met).toContainText('theme at campaign level')
  await expect(met).toContainText('home; it stands, beside yours')
  await expect(other.getByTestId('field link')).toContainText('theme=home')
  await page.reload()
  await expect(page.getByTestId('field link')).toContainText(/theme=home&tone=calm|tone=calm&theme=home/)
  await other.close()
})

test('an ad of a network without a plan is offered the usual one', async ({ page }) => {
  await page.goto(`${app.origin}/links`)
  await page.getByRole('button', { name: 'new ad' }).click()
  const form = panel(page, 'A new ad')
  await form.getByLabel('Network').selectOption('corvane')
  await form.getByLabel('Name of the offer', { exact: true }).fill('Weaving course')
  await form.getByLabel('ID of the offer', { exact: true }).fill('co1')
  await form.getByLabel('Landing page').fill('https://tarnbrook.example/course')
  await form.getByRole('button', { name: 'Add the ad' }).click()
  await expect(page.getByText('Nothing is set yet')).toBeVisible()
  await page.getByRole('button', { name: 'Set the usual for all of Corvane' }).click()
  await expect(page.getByTestId('field offer link')).toContainText('utm_source=corvane')
  // Sub-IDs are parameters of the plan under the network's names, up to its limit.
  await page.getByLabel('New parameter').fill('p2')
  await page.getByRole('button', { name: 'Add parameter' }).click()
  await page.getByLabel('p2, text').fill('spring')
  await expect(page.getByTestId('field offer link')).toContainText('&p1=&p2=spring')
})

test('a change that cannot be stored is kept and said, and one made in leaving is stored', async ({
  page,
}) => {
  const changes = '**/api/links/changes'
  await page.goto(`${app.origin}/links?ad=norrfeed/na103&parameter=utm_term&level=ad`)
  await page.getByLabel('New parameter').fill('mood')
  await page.route(changes, route => route.abort())
  await page.getByRole('button', { name: 'Add parameter' }).click()
  await page.getByLabel('mood, text').fill('calm')
  await expect(page.getByText(/Not stored yet/)).toBeVisible()
  await page.unroute(changes)
  await page.getByLabel('mood, text').fill('calmer')
  await expect(page.getByText(/Not stored yet/)).toBeHidden()
  await page.getByLabel('mood, text').fill('calmest')
  // Away before it was stored.
  await page.getByRole('link', { name: 'Weigh' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('brought an estimated')
  await page.goto(`${app.origin}/links?ad=norrfeed/na103`)
  await expect(page.getByTestId('field parameters')).toContainText('mood=calmest')
})

test('names are checked when they are typed and when they come in, and Weigh groups by what they say', async ({
  page,
}) => {
  await page.goto(`${app.origin}/links/names`)
  await page.getByRole('button', { name: 'New rule' }).click()
  const rule = panel(page, 'The naming rule')
  await rule.getByLabel('Names of').selectOption('ad_set')
  await rule.getByText('Mothwire', { exact: true }).click()
  await rule.getByLabel('between parts stands').fill(' ')
  await rule.getByLabel('Name of part 1').fill('who')
  await rule.getByLabel('What part 2 is').selectOption('list')
  await rule.getByLabel('Name of part 2').fill('what')
  await rule.getByLabel('What part 2 may be').fill('homes, lovers, makers')
  await rule.getByRole('button', { name: 'Take part 3 out' }).click()
  await rule.getByLabel('Try a name').fill('Small hmes')
  await expect(rule.getByRole('status')).toContainText('It would be Small homes')
  await rule.getByRole('button', { name: 'Keep the rule' }).click()
  await expect(page.getByRole('row', { name: /Makers/ })).toContainText('has 1 of 2 parts')

  await page.goto(`${app.origin}/links`)
  await page.getByRole('button', { name: 'new ad' }).click()
  const form = panel(page, 'A new ad')
  await form.getByLabel('Network').selectOption('mothwire')
  const typed = form.getByLabel(/^Name of the /).nth(1)
  await typed.fill('Old lover')
  await form.getByRole('button', { name: 'Use Old lovers' }).click()
  await expect(typed).toHaveValue('Old lovers')

  await page.goto(`${app.origin}/intake/import`)
  await page.getByLabel('CSV files').setInputFiles({
    name: 'from the agency.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'network,campaign_id,ad_set_id,ad_set_name,ad_id,ad_name,landing_page\nmothwire,mc900,ms900,New hoomes,ma900,Warm rooms,https://tarnbrook.example/kits\n',
    ),
  })
  const taken = page.getByRole('status').filter({ hasText: 'from the agency.csv, as ads: 1 rows in' })
  await expect(taken.getByRole('row', { name: /New hoomes/ })).toContainText('New homes')
  await page.goto(`${app.origin}/links?ad=mothwire/ma900`)
  await expect(page.getByText('Mothwire › mc900 › New hoomes › Warm rooms')).toBeVisible()
  await expect(page.getByLabel('Leads to')).toHaveValue('https://tarnbrook.example/kits')

  await page.goto(`${app.origin}/weigh?network=mothwire&set=evidence`)
  const table = page.getByRole('table', { name: 'Campaigns, ad sets and ads' })
  const spendOf = async (name: RegExp) =>
    Number(
      (
        await table
          .getByRole('row', { name })
          .getByRole('button', { name: /show the evidence/ })
          .first()
          .innerText()
      ).replaceAll(',', ''),
    )
  // The ads below come when the page has come alive.
  await expect(page.getByText(/^\d+ rows$/)).toBeVisible()
  const all = await spendOf(/^All of Mothwire/)
  await page.getByLabel('Rows by').selectOption({ label: 'by what, in ad set names' })
  await expect(table.getByRole('row', { name: /below homes/ })).toBeVisible()
  const [homes, lovers, others] = [
    await spendOf(/below homes/),
    await spendOf(/below lovers/),
    await spendOf(/below not named so/),
  ]
  expect(Math.round((homes + lovers + others - all) * 100)).toBe(0)
  await table.getByRole('button', { name: 'Show what is below homes' }).click()
  await table
    .getByRole('row', { name: /below homes/ })
    .getByRole('button', { name: /show the evidence/ })
    .nth(4)
    .click()
  await expect(page.getByRole('complementary', { name: 'Evidence' })).toContainText(/\d+ orders?,/)
})

test('a line of sources opens the clicks and orders that it counts', async ({ page }) => {
  await page.goto(`${app.origin}/links/sources?network=parkfold`)
  const line = page.getByRole('row', { name: /^sp-2207/ })
  const [clicks, orders] = await Promise.all([1, 3].map(i => line.getByRole('cell').nth(i).innerText()))
  await page.getByRole('button', { name: 'sp-2207' }).click()
  const opened = line.locator('xpath=following-sibling::*[1]')
  const clickedAd = opened.getByText('Weaving names', { exact: true })
  await expect(clickedAd).not.toHaveCount(0)
  const earlier = await opened.getByText('before these days').count()
  await expect(clickedAd).toHaveCount(Number(clicks) + earlier)
  await expect(opened.getByRole('link')).toHaveCount(Number(orders))
  await opened.getByRole('link').first().click()
  await expect(page).toHaveURL(/\/intake\/orders\//)
})
