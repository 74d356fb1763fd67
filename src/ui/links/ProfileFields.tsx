import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { fieldNames, reportFields } from '@/core/intake/reports/mapping'
import { type NetworkProfile, type PlanLevel, planLevels } from '@/core/links/profile'
import { CheckField } from '../parts/CheckField'
import { Select } from '../parts/Fields'
import { Fold } from '../parts/Fold'
import { allTokens, tokenWords } from './linkWords'
import { Field, Grid, Heading, Problems, TextField } from './ProfileField'
import { asList, asRecord, asText, type ProfileDraft, withEntry } from './profileDraft'

const plainLevel = (level: string) => level.replace('_', ' ')

/** A number where it is one; else as it stands, for the schema to refuse. */
const numberOf = (text: string) => (text === '' ? undefined : /^\d+$/.test(text) ? Number(text) : text)

interface PartProps {
  draft: ProfileDraft
  change: (part: ProfileDraft) => void
}

/** A profile in fields, section by section. */
export function ProfileFields({
  draft,
  isNew,
  subIdTokens,
  problems,
  change,
}: PartProps & {
  isNew: boolean
  subIdTokens: NetworkProfile['sub_ids']
  problems: ReadonlyMap<string, string>
}) {
  const dialect = asRecord(draft.dialect)
  const tokens = asRecord(dialect.tokens)
  const words = { level_names: levelWords(draft) }
  const setDialect = (part: Record<string, unknown>) => change({ dialect: { ...dialect, ...part } })
  return (
    <Problems value={problems}>
      <Box flex="1" minWidth="0">
        <Grid>
          <TextField label="Name" path="name" value={draft.name} set={name => change({ name })} />
          <TextField
            label="ID, for files and addresses"
            path="id"
            disabled={!isNew}
            value={draft.id}
            set={id => change({ id })}
          />
          <TextField
            label="Days are in the zone"
            path="time_zone"
            placeholder="the workspace’s"
            value={draft.time_zone}
            set={zone => change({ time_zone: zone || undefined })}
          />
        </Grid>
        <Heading>A value stands between</Heading>
        <Grid>
          <TextField
            label="opening characters"
            path="dialect.open"
            literal
            value={dialect.open}
            set={open => setDialect({ open })}
          />
          <TextField
            label="closing characters"
            path="dialect.close"
            literal
            value={dialect.close}
            set={close => setDialect({ close })}
          />
        </Grid>
        <Heading>The network’s word for each value; empty where it has none</Heading>
        <Grid>
          {allTokens({ sub_ids: subIdTokens }).map(token => (
            <TextField
              key={token}
              label={tokenWords(token, words)}
              called={`Word for ${tokenWords(token, words)}`}
              path={`dialect.tokens.${token}`}
              literal
              value={tokens[token]}
              set={word => setDialect({ tokens: withEntry(tokens, token, word) })}
            />
          ))}
        </Grid>
        <Heading>Levels</Heading>
        <Levels draft={draft} change={change} />
        <Heading>Fields at the network</Heading>
        <NetworkFields draft={draft} change={change} />
        <Heading>Windows, click ID and sub-IDs</Heading>
        <Windows draft={draft} change={change} />
        <ReportColumns draft={draft} change={change} />
      </Box>
    </Problems>
  )
}

/** Its words for levels, as far as they are written. */
const levelWords = (draft: ProfileDraft): NetworkProfile['level_names'] =>
  Object.fromEntries(Object.entries(asRecord(draft.level_names)).filter(([, word]) => asText(word) !== ''))

function Levels({ draft, change }: PartProps) {
  const names = asRecord(draft.level_names)
  const reviewed = asList(draft.review_levels)
  const has = draft.levels === undefined ? [...planLevels] : ['account', ...asList(draft.levels)]
  const toggle = (list: readonly unknown[], level: PlanLevel, on: boolean) =>
    planLevels.filter(l => (l === level ? on : list.includes(l)))
  return (
    <Flex gap="3" align="start">
      {planLevels.map(level => (
        <Box key={level} flex="1" fontSize="12px">
          {level === 'campaign' || level === 'ad_set' ? (
            <CheckField
              label={`it has ${plainLevel(level)}s`}
              value={has.includes(level)}
              change={on =>
                change({
                  levels: toggle(has, level, on).filter(l => l !== 'account'),
                  ...(on ? {} : { review_levels: toggle(reviewed, level, false) }),
                })
              }
            />
          ) : (
            <Text>it has {level === 'account' ? 'one account' : 'ads'}</Text>
          )}
          <TextField
            label="and calls one"
            disabled={!has.includes(level)}
            called={`Its word for ${plainLevel(level)}`}
            path={`level_names.${level}`}
            placeholder={plainLevel(level)}
            value={names[level]}
            set={word => change({ level_names: withEntry(names, level, word) })}
          />
          <CheckField
            label="a change is reviewed"
            disabled={!has.includes(level)}
            value={reviewed.includes(level)}
            change={on => change({ review_levels: toggle(reviewed, level, on) })}
          />
        </Box>
      ))}
    </Flex>
  )
}

function NetworkFields({ draft, change }: PartProps) {
  const fields = asList(draft.fields).map(asRecord)
  const setField = (at: number, part: object) =>
    change({ fields: fields.map((field, i) => (i === at ? { ...field, ...part } : field)) })
  return (
    <>
      {fields.map((field, i) => (
        <Flex key={i} gap="2" mb="1" align="end">
          <TextField
            label={i === 0 ? 'name' : ''}
            called={`Name of field ${i + 1}`}
            path={`fields.${i}.id`}
            value={field.id}
            set={id => setField(i, { id })}
          />
          <Select
            aria-label={`What field ${i + 1} holds`}
            value={asText(field.holds)}
            onChange={event => setField(i, { holds: event.target.value })}
          >
            <option value="address">the address</option>
            <option value="query">the plan’s parameters alone</option>
          </Select>
          {fields.length > 1 && (
            <Button onClick={() => change({ fields: fields.filter((_, j) => j !== i) })}>Take it out</Button>
          )}
        </Flex>
      ))}
      <Button onClick={() => change({ fields: [...fields, { id: 'parameters', holds: 'query' }] })}>
        Another field
      </Button>
    </>
  )
}

const numbers = [
  ['click_window_days', 'click window, days', '30'],
  ['view_window_days', 'view window, days', '1'],
  ['max_length', 'longest address', '2048'],
] as const

function Windows({ draft, change }: PartProps) {
  const subIds = draft.sub_ids ? asRecord(draft.sub_ids) : null
  return (
    <Grid>
      {numbers.map(([key, label, usual]) => (
        <TextField
          key={key}
          label={label}
          path={key}
          placeholder={usual}
          value={draft[key]}
          set={text => change({ [key]: numberOf(text) })}
        />
      ))}
      <TextField
        label="its click ID arrives as"
        path="click_id_parameter"
        literal
        value={draft.click_id_parameter}
        set={key => change({ click_id_parameter: key || undefined })}
      />
      <Field label="a claim counts on the day of" path="dated_by">
        <Select
          width="100%"
          value={asText(draft.dated_by) || 'conversion'}
          onChange={event => change({ dated_by: event.target.value })}
        >
          <option value="conversion">the conversion</option>
          <option value="click">the click</option>
        </Select>
      </Field>
      <TextField
        label="sub-IDs, at most"
        path="sub_ids.limit"
        placeholder="none"
        value={subIds?.limit}
        set={text =>
          change({
            sub_ids: text === '' ? undefined : { in: 'query', names: [], ...subIds, limit: numberOf(text) },
          })
        }
      />
      {subIds && (
        <>
          <Field label="they stand in" path="sub_ids.in">
            <Select
              width="100%"
              value={asText(subIds.in)}
              onChange={event => change({ sub_ids: { ...subIds, in: event.target.value } })}
            >
              <option value="query">the query</option>
              <option value="path">the path</option>
            </Select>
          </Field>
          <TextField
            label="under the names"
            path="sub_ids.names"
            placeholder="p1 p2 …"
            literal
            value={asList(subIds.names).join(' ')}
            set={text => change({ sub_ids: { ...subIds, names: text.split(/[\s,]+/).filter(Boolean) } })}
          />
        </>
      )}
    </Grid>
  )
}

function ReportColumns({ draft, change }: PartProps) {
  const columns = asRecord(draft.report_columns)
  return (
    <Fold
      mt="4"
      title={
        <Text as="span" fontWeight="650">
          Columns of its reports ({Object.keys(columns).length} named)
        </Text>
      }
    >
      <Box mt="2">
        <Grid>
          {fieldNames.map(name => (
            <TextField
              key={name}
              label={reportFields[name]}
              called={`Column for ${reportFields[name]}`}
              path={`report_columns.${name}`}
              value={columns[name]}
              set={column => change({ report_columns: withEntry(columns, name, column) })}
            />
          ))}
        </Grid>
      </Box>
    </Fold>
  )
}
