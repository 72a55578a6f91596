import {
  addMarket,
  changeMarket,
  changeSite,
  listSites,
  type Market,
  removeMarket,
  removeSite,
} from '@dew-trail/contract/sites'
import { type AveragePeriod, averagePeriods } from '@dew-trail/core/demand/average-searches'
import { listEngines } from '@dew-trail/contract/sources'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../api/call.ts'
import { askAgain, useEndpoint } from '../../api/use-endpoint.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatMarket } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useChange } from '../../ui/use-change.ts'
import { useAct } from '../../ui/use-act.ts'

/** A site's name, its markets, and the way to remove either. */
export default function SiteDialog({ onClose }: { onClose(): void }) {
  const { site } = useSite()
  const client = useQueryClient()
  const act = useAct()
  const [name, setName] = useState(site.name)
  const rename = (event: FormEvent) => {
    event.preventDefault()
    void act(async () => {
      await call(changeSite, { siteId: site.id, name })
      await askAgain(client, listSites)
      return { say: `${site.domain} is called "${name}" now` }
    })
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>{site.domain}</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 5, pt: '8px !important' }}>
        <form onSubmit={rename} style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
          <TextField
            label="Name"
            sx={{ width: 320 }}
            value={name}
            onChange={event => setName(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <Button type="submit" disabled={!name.trim() || name.trim() === site.name}>
            Rename
          </Button>
        </form>
        <VisitWorth />
        <FirstShare />
        <SearchesOver />
        <section aria-labelledby="site-markets">
          <h3 id="site-markets" style={{ margin: '0 0 6px', fontSize: 14 }}>
            Markets
          </h3>
          <table className="results whole-cells">
            <thead>
              <tr>
                <th>Market</th>
                <th>What you call it</th>
                <th>Checks</th>
                <th>
                  <span className="hidden">Remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {site.markets.map(market => (
                <MarketLine key={market.id} market={market} />
              ))}
            </tbody>
          </table>
          <NewMarket />
        </section>
        <RemoveSite onRemoved={onClose} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

/** A figure of the site that the owner may say in place of what the program takes. */
function OwnFigure({
  label,
  value,
  least,
  most,
  help,
  wrong,
  save,
}: {
  label: string
  value: number | null
  least: number
  most: number
  help: string
  wrong: string
  /** Saves it and gives what to say. */
  save(value: number | null): Promise<string>
}) {
  const client = useQueryClient()
  const act = useAct()
  const [typed, setTyped] = useState(value === null ? '' : String(value))
  const meant = typed.trim() === '' ? null : Number(typed.replace(',', '.'))
  const isGood = meant === null || (meant >= least && meant <= most)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    void act(async () => {
      const say = await save(meant)
      await askAgain(client, listSites)
      return { say }
    })
  }
  return (
    <form onSubmit={submit} style={{ display: 'flex', gap: 8, alignItems: 'flex-start' }}>
      <TextField
        label={label}
        sx={{ width: 320 }}
        value={typed}
        error={!isGood}
        onChange={event => setTyped(event.target.value)}
        helperText={isGood ? help : wrong}
        slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      />
      <Button type="submit" disabled={!isGood || meant === value}>
        Save
      </Button>
    </form>
  )
}

/** What a visit is worth to the owner, which takes the place of CPC wherever visits are valued. */
function VisitWorth() {
  const { site } = useSite()
  return (
    <OwnFigure
      label="Worth of a visit to you"
      value={site.visitWorth}
      least={0.001}
      most={1_000_000}
      help="In the currency of the ads data. Empty: what advertisers pay for a click (CPC) stands for it"
      wrong="A number above 0"
      save={async visitWorth => {
        await call(changeSite, { siteId: site.id, visitWorth })
        return visitWorth === null
          ? 'Visits are valued by CPC again'
          : `A visit counts as worth ${visitWorth} everywhere`
      }}
    />
  )
}

/** What share of searches clicks the first result, which moves the shares at all other places along. */
function FirstShare() {
  const { site } = useSite()
  return (
    <OwnFigure
      label="Clicks at the first place, % of searches"
      value={site.firstShare === null ? null : Math.round(site.firstShare * 1_000) / 10}
      least={1}
      most={95}
      help="Other places keep their proportion to it; searches with a brand word keep their own curve. Empty: as your query log shows, else the default (28% on desktop, 26% on mobile)"
      wrong="A percentage from 1 to 95"
      save={async percent => {
        await call(changeSite, { siteId: site.id, firstShare: percent === null ? null : percent / 100 })
        return percent === null
          ? 'Visits follow your query log, or the default, again'
          : `${percent}% of searches count as clicks at the first place, everywhere`
      }}
    />
  )
}

/** Of how many months searches are the mean. */
function SearchesOver() {
  const { site } = useSite()
  const client = useQueryClient()
  const change = useChange()
  const act = useAct()
  const choose = (averageMonths: AveragePeriod) =>
    change.run(() =>
      act(async () => {
        await call(changeSite, { siteId: site.id, averageMonths })
        await askAgain(client, listSites)
        return { say: `Searches are the mean of the last ${averageMonths} known months` }
      }),
    )
  return (
    <div role="group" aria-label="Searches are the mean of" style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
      <span className="quiet">Searches are the mean of the last</span>
      {averagePeriods.map(period => (
        <button
          key={period}
          type="button"
          className="choice"
          aria-pressed={site.averageMonths === period}
          disabled={change.pending}
          onClick={() => void choose(period)}
        >
          {period}
        </button>
      ))}
      <span className="quiet">known months</span>
    </div>
  )
}

function MarketLine({ market }: { market: Market }) {
  const { site, market: shown, setMarket } = useSite()
  const client = useQueryClient()
  const act = useAct()
  const [name, setName] = useState(market.name ?? '')
  const [removing, setRemoving] = useState(false)
  const plain = formatMarket({ ...market, name: null })
  const change = async (input: { name?: string | null; paused?: boolean }) => {
    await call(changeMarket, { siteId: site.id, marketId: market.id, ...input })
    await askAgain(client, listSites)
  }
  // Enter saves, and leaving the box while that is under way is no second wish.
  const saving = useChange()
  const saveName = () => {
    if (name.trim() === (market.name ?? '')) return
    void saving.run(() =>
      act(async () => {
        await change({ name: name.trim() || null })
        return { say: name.trim() ? `${plain} is called "${name.trim()}" now` : `${plain} has its own name again` }
      }),
    )
  }
  return (
    <tr>
      <td>{plain}</td>
      <td>
        <TextField
          value={name}
          placeholder="as it is"
          onChange={event => setName(event.target.value)}
          onBlur={saveName}
          onKeyDown={event => event.key === 'Enter' && saveName()}
          slotProps={{ htmlInput: { 'aria-label': `What you call ${plain}`, maxLength: 60 } }}
        />
      </td>
      <td>
        <ActButton
          label={market.paused ? `Take up ${plain} again` : `Pause ${plain}`}
          title="What runs by itself leaves a paused market out; its data stays"
          onAct={async () => {
            await change({ paused: !market.paused })
            return { say: market.paused ? `${plain} is checked again` : `${plain} is paused` }
          }}
        >
          {market.paused ? 'Paused: take up again' : 'Pause'}
        </ActButton>
      </td>
      <td>
        {removing ? (
          <>
            <ActButton
              label={`Remove ${plain} with its positions and results`}
              className="link fall"
              onAct={async () => {
                await call(removeMarket, { siteId: site.id, marketId: market.id })
                const other = site.markets.find(each => each.id !== market.id)
                if (shown.id === market.id && other) setMarket(other.id)
                await askAgain(client, listSites)
                return { say: `${plain} is removed with its positions, weighings and results` }
              }}
            >
              Remove with all its data
            </ActButton>{' '}
            <button type="button" className="link" onClick={() => setRemoving(false)}>
              Keep
            </button>
          </>
        ) : (
          <button
            type="button"
            className="link"
            disabled={site.markets.length === 1}
            title={site.markets.length === 1 ? 'A site has at least one market' : undefined}
            aria-label={`Remove ${plain}`}
            onClick={() => setRemoving(true)}
          >
            Remove
          </button>
        )}
      </td>
    </tr>
  )
}

/** Adds a market from what the engines offer. */
function NewMarket() {
  const { site } = useSite()
  const client = useQueryClient()
  const { data: engines, error } = useEndpoint(listEngines, {})
  const offers = useMemo(
    () =>
      (engines ?? []).flatMap(({ engine, devices, places }) =>
        places.flatMap(({ place, languages }) =>
          languages.flatMap(({ language }) => devices.map(device => ({ engine, place, language, device }))),
        ),
      ),
    [engines],
  )
  const isThere = (offer: (typeof offers)[number]): boolean =>
    site.markets.some(
      each =>
        each.engine === offer.engine &&
        each.place === offer.place &&
        each.language === offer.language &&
        each.device === offer.device,
    )
  const free = offers.filter(offer => !isThere(offer))
  const [chosen, setChosen] = useState('')
  const keyOf = (offer: (typeof offers)[number]) => Object.values(offer).join('|')
  const offer = free.find(each => keyOf(each) === chosen)
  if (error) return <p className="fall">What the engines offer could not be read: {error.message}</p>
  if (engines && !free.length) return <p className="quiet">Every market that the engines offer is there.</p>
  return (
    <div style={{ display: 'flex', gap: 12, alignItems: 'center', marginTop: 10 }}>
      <TextField
        select
        label="Another market"
        slotProps={{ inputLabel: { shrink: true } }}
        value={offer ? chosen : ''}
        sx={{ width: 380 }}
        onChange={event => setChosen(event.target.value)}
      >
        {free.map(each => (
          <MenuItem key={keyOf(each)} value={keyOf(each)}>
            {formatMarket(each)}
          </MenuItem>
        ))}
      </TextField>
      <ActButton
        disabled={!offer}
        onAct={async () => {
          await call(addMarket, { siteId: site.id, ...offer! })
          await askAgain(client, listSites)
          return { say: `${formatMarket(offer!)} added` }
        }}
      >
        Add
      </ActButton>
    </div>
  )
}

/** Removes the site after its domain was typed. */
function RemoveSite({ onRemoved }: { onRemoved(): void }) {
  const { site, sites } = useSite()
  const client = useQueryClient()
  const navigate = useNavigate()
  const [typed, setTyped] = useState('')
  return (
    <details>
      <summary>Remove this site</summary>
      <p className="quiet">
        Everything of {site.domain} goes: keywords, weighings, the plan, positions, notes and lists. For a day an
        administrator can bring it back on Sources, then it is gone. What is known of links and pages of the web stays
        for other sites.
      </p>
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <TextField
          value={typed}
          placeholder={site.domain}
          onChange={event => setTyped(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': `Type ${site.domain} to remove it` } }}
        />
        <ActButton
          className="link fall"
          disabled={typed.trim().toLowerCase() !== site.domain}
          onAct={async () => {
            await call(removeSite, { siteId: site.id, domain: typed })
            onRemoved()
            const other = sites.find(each => each.id !== site.id)
            navigate(other ? `/${other.id}/gather` : '/')
            await askAgain(client, listSites)
            return { say: `${site.domain} is removed; for a day it can be brought back on Sources` }
          }}
        >
          Remove with all data
        </ActButton>
      </div>
    </details>
  )
}
