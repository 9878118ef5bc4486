<script setup lang="ts">
import { computed, watch } from 'vue'
import { readPackage, type Place } from '../../api'
import type { PackageView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, fixed, grams } from '../../lib/format'

/** What the cameras of a job share: fronts and rings, adapters at one time, plates, quick releases. */
const props = defineProps<{ place: Place }>()
const { found, problem, load } = useLoad<PackageView>()
watch(
  () => [props.place.job, props.place.part, props.place.rig] as const,
  () => load(() => readPackage(props.place)),
  { immediate: true },
)
const things = computed(() => found.value?.fronts.find((f) => f.takes.length)?.takes.map((t) => t.thing) ?? [])
const MARKS: Record<string, string> = { straight: 'as it is', 'by rings': '', 'to hire': 'hire', no: 'no' }
</script>

<template>
  <div class="package">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <template v-else-if="found">
      <section aria-labelledby="fronts-head">
        <h2 id="fronts-head">Fronts</h2>
        <p class="quiet">What goes on each lens, and by which rings.</p>
        <div class="fronts-scroll">
          <table v-if="things.length" class="fronts">
            <thead>
              <tr>
                <th scope="col">Lens</th>
                <th v-for="t in things" :key="t" scope="col">{{ t }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="f in found.fronts" :key="f.lens">
                <th scope="row">
                  {{ f.lens }} <small>{{ f.front }}</small>
                </th>
                <td v-for="t in f.takes" :key="t.thing" :class="t.how.replace(' ', '-')">
                  <b v-if="MARKS[t.how]">{{ MARKS[t.how] }}</b> {{ t.rings }}
                  <small v-if="t.mass_g">+{{ fixed(t.length_mm, 0) }} mm, {{ grams(t.mass_g) }} g</small>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="!things.length" class="quiet">No filter, hood or matte box in stock.</p>
        <template v-if="found.refits.length">
          <h3>Lens changes that re-fit the front</h3>
          <p v-for="r in found.refits" :key="r.rig + r.before" class="line">
            <b>{{ r.rig }}</b> {{ r.before }} → {{ r.after }}: {{ r.lens_off }} to {{ r.lens_on }}
            <span v-if="r.off.length">off {{ r.off.join(', ') }}</span>
            <span v-if="r.on.length">on {{ r.on.join(', ') }}</span>
            <span class="in-sum">{{ fixed(r.minutes, 1) }} min</span>
          </p>
        </template>
      </section>
      <section aria-labelledby="pictures-head">
        <h2 id="pictures-head">Pictures that will not match</h2>
        <p v-if="!found.pictures.differs.length" class="quiet">
          Nothing that is known differs in this part of the day.
        </p>
        <p v-for="d in found.pictures.differs" :key="d.what" class="line">
          <b>{{ d.what }}</b> <span v-for="[camera, value] in d.values" :key="camera">{{ camera }} {{ value }}</span>
        </p>
        <p v-if="found.pictures.common" class="line">
          All bodies record <span class="in-sum">{{ found.pictures.common }}</span>
        </p>
      </section>
      <section v-if="found.timecode.cameras.length" aria-labelledby="timecode-head">
        <h2 id="timecode-head">Timecode</h2>
        <p class="line">
          <b>Master</b> {{ found.timecode.master || 'nothing here gives timecode' }}
          <span>{{
            found.timecode.boxes_free.length ? `free boxes: ${found.timecode.boxes_free.join(', ')}` : 'no free box'
          }}</span>
          <span v-if="found.timecode.boxes_short" class="in-sum"
            >{{ counted(found.timecode.boxes_short, 'camera') }} without one</span
          >
        </p>
        <p v-for="c in found.timecode.cameras" :key="c.rig" class="line">
          <b>{{ c.rig }}</b>
          <span v-if="!c.socket">{{ c.body }} has no socket for it: clap a slate</span>
          <span v-else-if="c.source">{{ c.source }} through {{ c.cable }} into {{ c.socket }}</span>
          <span v-else-if="c.held_by">{{ c.socket }} is taken by {{ c.held_by }}</span>
          <span v-else>{{ c.socket }} is free</span>
          <span v-if="c.as_sound">as sound: that track is gone</span>
        </p>
      </section>
      <section v-if="found.adapters.length" aria-labelledby="adapters-head">
        <h2 id="adapters-head">Adapters and mount plates at one time</h2>
        <p v-for="a in found.adapters" :key="a.title" class="line" :class="{ short: a.short > 0 }">
          <b>{{ a.title }}</b>
          <span v-if="a.at_once">{{ a.at_once }} in use ({{ a.when }})</span>
          <span v-if="a.wanted.length">one more for {{ a.wanted.join(', ') }}</span>
          <span>{{ a.owned }} own, {{ a.hired }} hired</span>
          <span v-if="a.short" class="in-sum">hire {{ a.short }}</span>
        </p>
      </section>
      <section v-if="found.plates.length" aria-labelledby="plates-head">
        <h2 id="plates-head">Plates under the cameras</h2>
        <div v-for="p in found.plates" :key="p.rig" class="line">
          <b>{{ p.rig }}</b>
          <span v-for="[part, support, plate] in p.stands" :key="part" class="stand"
            ><small>{{ part }}</small> {{ plate }} in {{ support }}</span
          >
          <span class="in-sum">{{ p.swaps ? counted(p.swaps, 'plate swap') : 'no swap' }}</span>
          <span v-if="p.one_for_all.length">one for all: {{ p.one_for_all.join(', ') }}</span>
        </div>
      </section>
      <section v-if="found.releases.length" aria-labelledby="releases-head">
        <h2 id="releases-head">Where a quick release pays</h2>
        <p v-for="r in found.releases" :key="r.rig + r.joint" class="line">
          <b>{{ r.rig }}</b> {{ r.joint }}: {{ r.times }} times on or off
          <span class="in-sum">saves {{ fixed(r.saves_min, 1) }} min</span>
          <span v-if="r.by"
            >by {{ r.by }}, +{{ grams(r.mass_g) }} g; rocks {{ fixed(r.play_deg, 2) }}°{{
              r.play_measured ? '' : ' as is usual'
            }}, {{ fixed(r.rocks_mm, 1) }} mm at what it carries; {{ r.locks }}</span
          >
          <span v-else>nothing in stock goes between</span>
        </p>
      </section>
    </template>
    <p v-else class="quiet">Looking over the whole day…</p>
  </div>
</template>

<style>
.package h2 {
  font: 600 var(--t-5) var(--text);
  padding: var(--gap-7) 0 var(--gap-2);
}
.package h3 {
  font: 600 var(--t-3) var(--text);
  padding: var(--gap-5) 0 var(--gap-2);
}
.fronts-scroll {
  overflow-x: auto;
}
.fronts {
  border-collapse: collapse;
  font-size: var(--t-2);
}
.fronts th,
.fronts td {
  text-align: left;
  vertical-align: top;
  padding: var(--gap-3) var(--gap-6) var(--gap-3) 0;
  border-bottom: 1px solid var(--rule-2);
  font-weight: 400;
  min-width: 108px;
}
.fronts th[scope='row'] {
  font-weight: 600;
  min-width: 190px;
}
.fronts small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
.fronts .no {
  color: var(--ink-3);
}
.fronts .to-hire {
  color: var(--watch);
}
.package .line {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-1) var(--gap-6);
  align-items: baseline;
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.package .quiet {
  padding: 0 0 var(--gap-3);
}
.package .line small {
  color: var(--ink-2);
}
.package .in-sum {
  font: 600 var(--t-3) var(--figures);
}
.package .short .in-sum {
  color: var(--stop);
}
</style>
