/* SPDX-License-Identifier: MIT */
/* The room of sound by itself: bands against tones of known power, onsets, beats and pitch against sounds of which is known
 * what is in them (other seeds than those it was tuned with), any cutting of pushes, extremes, misuse. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/sound.h>

#include "sounds.h"
#include "suites.h"

#define PI 3.14159265358979323846
#define SEED 101u /* of sounds that nothing was tuned with */

static GLANZ_SOUND_MEMORY(memory, GLANZ_BANDS_MOST, 1, 1, 1);
static struct glanz_sound *sound;

static void start(const struct glanz_hearing *hearing) {
    static const struct glanz_sound_setup setup = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 0};
    ck_assert_uint_ge(sizeof memory, glanz_sound_size(&setup));
    ck_assert_int_eq(glanz_sound_start(&sound, &memory, sizeof memory, &setup), GLANZ_OK);
    ck_assert_int_eq(glanz_sound_listen(sound, hearing), GLANZ_OK);
}

static const uint16_t rates[] = {8000, 16000, 22050, 44100, 48000};
#define RATES 5

/* ---- bands ---- */

struct tone {
    double hz, level; /* of full scale */
};

/* Mean powers of all bands while tones sound, in dB below a sine at full scale. */
static void listen_to(double *dbs, const struct glanz_hearing *hearing, const struct tone *tones, int count) {
    struct glanz_hearing how = glanz_hearing_filled(hearing);
    double sum[GLANZ_BANDS_MOST] = {0};
    int ticks = 0;
    uint32_t seen = 0;
    start(hearing);
    for (uint32_t i = 0; i < how.rate_hz; i++) {
        double x = 0;
        for (int k = 0; k < count; k++) {
            x += 32767 * tones[k].level * sin(2 * PI * fmod(tones[k].hz * i / how.rate_hz, 1));
        }
        int16_t sample = (int16_t)lrint(x);
        REQUIRE(glanz_sound_push(sound, &sample, 1, 1, 0) == GLANZ_OK);
        const struct glanz_heard *heard = glanz_sound_heard(sound);
        if (heard->ticks != seen && heard->ticks > 120) {
            ticks++;
            for (uint8_t b = 0; b < how.bands; b++) {
                sum[b] += pow(10, glanz_sound_band_cdb(sound, b) / 1000.0);
            }
        }
        seen = heard->ticks;
    }
    for (uint8_t b = 0; b < how.bands; b++) {
        dbs[b] = 10 * log10(sum[b] / ticks);
    }
}

/* A tone's own band tells its power, its neighbours far less, at five rates, with 8, 16 and 32 bands; so it does down to -70
 * dB. */
START_TEST(bands_tell_tones) {
    static const uint8_t counts[] = {1, 3, 8, 16, 32};
    static const double next[] = {-9, -9, -9, -13, -13};
    static const double after[] = {-23, -23, -23, -27, -27};
    struct glanz_hearing hearing = {.rate_hz = rates[_i / 5], .bands = counts[_i % 5]};
    struct glanz_hearing how = glanz_hearing_filled(&hearing);
    double worst[4] = {0, -99, -99, 0}; /* middle, neighbour, two away, linearity */
    if (test_slow() && _i / 5 != 1) {
        return;
    }
    for (uint8_t b = 0; b < how.bands; b = (uint8_t)(b + (test_slow() ? 3 : 1))) {
        double low = glanz_hearing_edge(&how, b) / 16.0;
        double high = glanz_hearing_edge(&how, (uint8_t)(b + 1)) / 16.0;
        double dbs[GLANZ_BANDS_MOST];
        for (int place = 0; place < 3; place++) { /* the middle 80 % */
            struct tone tone = {low * pow(high / low, 0.1 + 0.4 * place), 1};
            listen_to(dbs, &hearing, &tone, 1);
            for (uint8_t k = 0; k < how.bands; k++) {
                REQUIRE_MSG(k == b || dbs[k] < dbs[b], "%.1f Hz is louder in band %u than in its own, %u", tone.hz, k, b);
                double off = dbs[k] - dbs[b];
                worst[1] = place == 1 && abs(k - b) == 1 ? fmax(worst[1], off) : worst[1];
                worst[2] = place == 1 && abs(k - b) == 2 ? fmax(worst[2], off) : worst[2];
            }
            worst[0] = place == 1 && fabs(dbs[b]) > fabs(worst[0]) ? dbs[b] : worst[0];
        }
        for (int level = 10; level <= 70; level += 30) {
            struct tone tone = {sqrt(low * high), pow(10, -level / 20.0)};
            listen_to(dbs, &hearing, &tone, 1);
            double off = dbs[b] + level - worst[0];
            worst[3] = fabs(off) > fabs(worst[3]) ? off : worst[3];
        }
    }
    printf("%u Hz, %u bands: middle %+.2f dB, next %.1f, two away %.1f, linear within %.2f\n", how.rate_hz, how.bands, worst[0],
           worst[1], worst[2], fabs(worst[3]));
    ck_assert(fabs(worst[0]) <= 0.3);
    ck_assert(worst[1] <= next[_i % 5]);
    ck_assert(worst[2] <= after[_i % 5]);
    ck_assert(fabs(worst[3]) <= 0.5);
}
END_TEST

/* A tone 60 dB below a loud one, three octaves off. */
START_TEST(quiet_beside_loud) {
    struct glanz_hearing hearing = {.rate_hz = 16000, .bands = (uint8_t)(_i == 0 ? 8 : 16)};
    struct glanz_hearing how = glanz_hearing_filled(&hearing);
    double dbs[GLANZ_BANDS_MOST];
    double worst = 0;
    for (uint8_t b = 0; b < how.bands; b++) {
        double hz = sqrt((double)glanz_hearing_edge(&how, b) * glanz_hearing_edge(&how, (uint8_t)(b + 1))) / 16;
        double loud = hz > 700 ? hz / 8 : hz * 8;
        struct tone tones[2] = {{hz, pow(10, -61 / 20.0)}, {loud, pow(10, -1 / 20.0)}};
        listen_to(dbs, &hearing, tones, 2);
        worst = fabs(dbs[b] + 61) > fabs(worst) ? dbs[b] + 61 : worst;
        ck_assert_msg(fabs(dbs[b] + 61) <= 0.5, "%.0f Hz at -61 dB beside %.0f Hz: %.2f", hz, loud, dbs[b]);
    }
    printf("%u bands: a tone 60 dB below a loud one three octaves off is %+.2f dB off at the most\n", how.bands, worst);
}
END_TEST

/* The hum of a mains and its overtones is taken out, of one that is a tenth of a percent off too; tones beside them stay. */
START_TEST(hum_is_taken_out) {
    uint8_t mains = _i < RATES ? 50 : 60;
    struct glanz_hearing hearing = {.rate_hz = rates[_i % RATES], .bands = 16, .low_hz = 40};
    double before[GLANZ_BANDS_MOST], after[GLANZ_BANDS_MOST];
    double least = 200, least_off = 200, most_beside = 0;
    for (int eighth = 4; eighth <= 48; eighth += test_slow() ? 4 : 2) { /* from half of it to six times */
        for (int off = -1; off <= 1; off++) {
            struct tone tone = {mains * eighth / 8.0 * (1 + off / 1000.0), 0.2};
            hearing.hum_hz = 0;
            listen_to(before, &hearing, &tone, 1);
            hearing.hum_hz = mains;
            listen_to(after, &hearing, &tone, 1);
            int loudest = 0;
            for (int b = 0; b < 16; b++) {
                loudest = before[b] > before[loudest] ? b : loudest;
            }
            double taken = before[loudest] - after[loudest];
            if (eighth % 8 == 0 && eighth <= 32) {
                least = off == 0 ? fmin(least, taken) : least;
                least_off = fmin(least_off, taken);
            } else {
                most_beside = fmax(most_beside, fabs(taken));
            }
        }
    }
    printf("%u Hz: hum of %u Hz is %.1f dB down, %.1f where it is 0.1 %% off; tones beside it %.2f at the most\n",
           hearing.rate_hz, mains, least, least_off, most_beside);
    fflush(stdout);
    ck_assert(least > 22 && least_off > 13 && most_beside < 1.2);
}
END_TEST

/* ---- onsets, beats, pitch ---- */

struct found {
    double onsets[4000], lows[4000];
    size_t onset_count, low_count;
    double bpm, trust, locked; /* over the second half; since when it is within 3 % */
    double worst_bpm;          /* from the middle on, where the tempo moves */
};

static double wanted_bpm(const struct sound *is, enum sound_family family, double time, double seconds) {
    return family == SOUND_RAMP ? 90 + 50 * time / seconds : is->bpm;
}

/* What there is before a sound, for BEFORE_S seconds. */
enum before { BEFORE_NOTHING, BEFORE_SILENCE, BEFORE_NOISE, BEFORE_TUNE, BEFORES };
#define BEFORE_S 18
#define BEFORE_QUIET_S 12 /* where a tune has ended */

/* @return seconds that it took. */
static double listen_before(enum before before, const struct glanz_hearing *hearing, uint32_t seed) {
    size_t block = hearing->rate_hz / 100u;
    struct sound tune = sound_make(SOUND_DRUMS, seed + 900, hearing->rate_hz, BEFORE_QUIET_S, 0);
    int16_t samples[480];
    uint32_t state = seed;
    start(hearing);
    for (uint32_t k = 0; before != BEFORE_NOTHING && k < BEFORE_S * 100u; k++) {
        for (size_t i = 0; i < block; i++) {
            state = state * 1664525u + 1013904223u;
            size_t at = k * block + i;
            samples[i] = (int16_t)(before == BEFORE_NOISE                     ? (int)(state >> 26) % 12 - 6 /* 80 dB down */
                                   : before == BEFORE_TUNE && at < tune.count ? tune.samples[at]
                                                                              : 0);
        }
        REQUIRE(glanz_sound_push(sound, samples, block, 1, k * 10000u) == GLANZ_OK);
    }
    sound_free(&tune);
    return before == BEFORE_NOTHING ? 0 : BEFORE_S;
}

/* @param from when it begins. */
static void listen_through(struct found *found, const struct sound *is, enum sound_family family,
                           const struct glanz_hearing *hearing, double seconds, double from) {
    uint16_t onsets = 0;
    uint16_t lows = 0;
    double ticks = 0;
    size_t block = hearing->rate_hz / 100u;
    memset(found, 0, sizeof *found);
    found->locked = -1;
    for (size_t i = 0; i + block <= is->count; i += block) {
        double time = (double)(i + block) / hearing->rate_hz;
        REQUIRE(glanz_sound_push(sound, is->samples + i, block, 1, (uint32_t)((from + time) * 1e6)) == GLANZ_OK);
        const struct glanz_heard *heard = glanz_sound_heard(sound);
        if (heard->onset[0].count != onsets) {
            onsets = heard->onset[0].count;
            found->onsets[found->onset_count++] = heard->onset[0].at_us / 1e6;
        }
        if (heard->onset[1].count != lows) {
            lows = heard->onset[1].count;
            found->lows[found->low_count++] = heard->onset[1].at_us / 1e6;
        }
        double bpm = heard->period_us == 0 ? 0 : 60e6 / heard->period_us;
        double want = wanted_bpm(is, family, time, seconds);
        int right = want != 0 && fabs(bpm / want - 1) < 0.03;
        found->locked = !right ? -1 : found->locked < 0 ? time : found->locked;
        if (time > seconds / 2) {
            found->trust += heard->trust / 65535.0;
            found->bpm += bpm;
            ticks++;
            found->worst_bpm = want != 0 ? fmax(found->worst_bpm, fabs(bpm / want - 1)) : 0;
        }
    }
    found->trust /= ticks;
    found->bpm /= ticks;
}

static int by_size(const void *a, const void *b) {
    double d = *(const double *)a - *(const double *)b;
    return d < 0 ? -1 : d > 0;
}

/* How many of the true ones were found, each once, no later than that. @param late filled. */
static size_t match(const double *found, size_t found_count, const double *wanted, size_t count, double within, double *late) {
    char used[4000] = {0};
    size_t hits = 0;
    for (size_t i = 0; i < count; i++) {
        for (size_t k = 0; k < found_count; k++) {
            if (!used[k] && found[k] > wanted[i] - 0.010 && found[k] < wanted[i] + within) {
                used[k] = 1;
                late[hits++] = found[k] - wanted[i];
                break;
            }
        }
    }
    return hits;
}

/* What there is in sounds of each family, on seeds that were not used for tuning. Bars where one was set; 0: told only. */
static const struct {
    double precision, recall, right; /* shares */
    double late_ms;                  /* 95 % of onsets */
} bars[SOUND_FAMILIES] = {
    [SOUND_CLICKS] = {0.98, 0.98, 0, 8},   [SOUND_DRUMS] = {0.98, 0.98, 0.9, 8},   [SOUND_BUSY] = {0.98, 0.8, 0, 8},
    [SOUND_SWING] = {0.98, 0.98, 0.9, 8},  [SOUND_CLIPPED] = {0.98, 0.98, 0.9, 8}, [SOUND_QUIET] = {0.98, 0.96, 0.9, 8},
    [SOUND_HUM] = {0.98, 0.98, 0.8, 8},    [SOUND_DIRECT] = {0.98, 0.98, 0.9, 8},  [SOUND_ECHO] = {0.93, 0.93, 0.9, 8},
    [SOUND_TUNE] = {0.98, 0.98, 0.8, 12},  [SOUND_SOFT] = {0.93, 0.9, 0.9, 25},    [SOUND_RAMP] = {0.98, 0.98, 0, 8},
    [SOUND_OFFBEAT] = {0.98, 0.98, 0, 10}, [SOUND_SPEECH] = {0.9, 0.9, 0, 18}};

START_TEST(sounds_are_understood) {
    int taken = _i == SOUND_FAMILIES; /* hum once more, which is taken out */
    enum sound_family family = taken ? SOUND_HUM : (enum sound_family)_i;
    static struct found found;
    static double late[40000];
    static double low_late[40000];
    int locked = 0; /* within two seconds */
    double error = 0;
    double trust = 0;
    double ramp = 0;
    size_t truth = 0, heard = 0, hits = 0, low_truth = 0, low_hits = 0;
    int seeds = test_slow() ? 1 : test_long() ? 40 : 8;
    int right = 0;
    struct glanz_hearing hearing = {.rate_hz = 16000, .bands = 8, .hum_hz = (uint8_t)(taken ? 50 : 0)};
    double seconds = test_slow() ? 8 : 24;
    for (int seed = 0; seed < seeds; seed++) {
        struct sound is = sound_make(family, SEED + (unsigned)seed, 16000, seconds, 0);
        start(&hearing);
        listen_through(&found, &is, family, &hearing, seconds, 0);
        hits += match(found.onsets, found.onset_count, is.onsets, is.onset_count, 0.025, late + hits);
        low_hits += match(found.lows, found.low_count, is.lows, is.low_count, 0.040, low_late + low_hits);
        truth += is.onset_count;
        low_truth += is.low_count;
        heard += found.onset_count;
        trust += found.trust / seeds;
        ramp = fmax(ramp, found.worst_bpm);
        if (is.bpm != 0 && fabs(found.bpm / is.bpm - 1) < 0.04) {
            error = fmax(error, fabs(found.bpm / is.bpm - 1));
            locked += found.locked >= 0 && found.locked <= is.onsets[0] + 2;
            right++;
        }
        sound_free(&is);
    }
    qsort(late, hits, sizeof *late, by_size);
    qsort(low_late, low_hits, sizeof *low_late, by_size);
    double precision = heard == 0 ? 1 : (double)hits / (double)heard;
    double recall = truth == 0 ? 1 : (double)hits / (double)truth;
    printf("%-11s %4zu onsets, %zu heard: precision %.3f, recall %.3f, late %.1f ms (median %.1f); low %.3f, %.1f ms; tempo "
           "right %d of %d, "
           "%.2f %% off, %d of them within 2 s; trust %.2f",
           taken ? "hum out" : sound_names[family], truth, heard, precision, recall,
           hits == 0 ? 0 : 1e3 * late[hits * 95 / 100], hits == 0 ? 0 : 1e3 * late[hits / 2],
           low_truth == 0 ? 1 : (double)low_hits / (double)low_truth, low_hits == 0 ? 0 : 1e3 * low_late[low_hits * 95 / 100],
           right, seeds, 100 * error, locked, trust);
    printf(family == SOUND_RAMP ? "; at most %.1f %% behind\n" : "\n", 100 * ramp);
    fflush(stdout); /* what fails is told too */
    ck_assert(precision >= bars[family].precision && recall >= bars[family].recall);
    ck_assert(hits == 0 || late[hits * 95 / 100] <= bars[family].late_ms / 1e3 || bars[family].late_ms == 0);
    ck_assert(family != SOUND_SILENCE || heard == 0);
    ck_assert(family != SOUND_NOISE || heard <= 3u * (unsigned)seeds);
    ck_assert(error <= 0.003 || family == SOUND_BUSY);
    int has_no_tempo = family == SOUND_OFFBEAT || family == SOUND_SPEECH || family == SOUND_NOISE || family == SOUND_SILENCE;
    ck_assert(!has_no_tempo || trust < 0.2); /* or none that is understood */
    if (!test_slow()) {
        ck_assert(right >= (taken ? 0.95 : bars[family].right) * seeds);
        ck_assert(trust >= 0.75 || bars[family].right == 0);
        ck_assert(locked >= (family == SOUND_HUM && !taken ? 0.7 : 0.85) * right || bars[family].right == 0);
        ck_assert(family != SOUND_RAMP || ramp < 0.06);
        ck_assert(low_hits == 0 || family == SOUND_TUNE || family == SOUND_SPEECH || (family == SOUND_HUM && !taken) ||
                  low_late[low_hits * 95 / 100] <= 0.018);
    }
}
END_TEST

/* The tempo is found as soon where there was silence, faint noise, or a tune that ended six seconds ago. */
START_TEST(tempo_is_found_after) {
    static const enum sound_family steady[] = {SOUND_DRUMS,  SOUND_SWING, SOUND_CLIPPED, SOUND_QUIET, SOUND_HUM,
                                               SOUND_DIRECT, SOUND_ECHO,  SOUND_TUNE,    SOUND_SOFT};
    static const char *const names[BEFORES] = {"nothing", "silence", "faint noise", "a tune"};
    static struct found found;
    enum before before = (enum before)(_i % BEFORES);
    struct glanz_hearing hearing = {.rate_hz = 16000, .bands = (uint8_t)(_i < BEFORES ? 8 : 16)};
    int seeds = test_slow() ? 1 : test_long() ? 40 : 5;
    int locked = 0;
    int all = 0;
    for (size_t f = 0; f < sizeof steady / sizeof steady[0]; f++) {
        for (int seed = 0; seed < seeds; seed++, all++) {
            struct sound is = sound_make(steady[f], SEED + (unsigned)seed, 16000, 6, 0);
            double from = listen_before(before, &hearing, SEED + (unsigned)seed);
            listen_through(&found, &is, steady[f], &hearing, 6, from);
            locked += found.locked >= 0 && found.locked <= is.onsets[0] + 2;
            sound_free(&is);
        }
    }
    printf("%u bands: after %s the tempo is found within 2 s in %d of %d\n", hearing.bands, names[before], locked, all);
    fflush(stdout);
    ck_assert(test_slow() || locked * 100 >= all * 85);
}
END_TEST

/* The tempo is no more trusted when drums have ended: in silence, in faint noise, under a tone that stands still. In digital
 * silence there are no beats any more. */
START_TEST(tempo_ends_with_sound) {
    struct glanz_hearing hearing = {.rate_hz = 16000, .bands = 8};
    int16_t samples[160];
    uint32_t state = SEED;
    uint32_t beats = 0;
    struct sound is = sound_make(SOUND_DRUMS, SEED, 16000, 10, 120);
    start(&hearing);
    for (size_t k = 0; k < 2000; k++) {
        for (size_t i = 0; i < 160; i++) {
            size_t at = k * 160 + i;
            int after[3] = {0, (int)(state >> 26) % 12 - 6, (int)lrint(3000 * sin(2 * PI * 440 * (double)at / 16000))};
            state = state * 1664525u + 1013904223u;
            samples[i] = at < is.count ? is.samples[at] : (int16_t)after[_i];
        }
        REQUIRE(glanz_sound_push(sound, samples, 160, 1, (uint32_t)k * 10000u) == GLANZ_OK);
        const struct glanz_heard *heard = glanz_sound_heard(sound);
        if (k > 600 && k < 1000) {
            ck_assert_uint_gt(heard->trust, 60000);
        } else if (k == 1600) {
            ck_assert_uint_ge(heard->beats, 16);
            beats = heard->beats;
        } else if (k > 1600) {
            ck_assert_uint_lt(heard->trust, 3000);
            ck_assert(_i != 0 || (heard->period_us == 0 && heard->beats == beats));
        }
    }
    sound_free(&is);
}
END_TEST

/* Notes of four timbres over four octaves: the pitch within half a semitone. */
START_TEST(notes_are_named) {
    int right = 0;
    int all = 0;
    for (int timbre = 0; timbre < 4; timbre++) {
        for (int note = 24; note < 72; note += test_slow() ? 9 : 3) {
            struct glanz_hearing hearing = {.rate_hz = rates[_i]};
            double hz = 16.3516 * pow(2, note / 12.0);
            int good = 0;
            int asked = 0;
            uint32_t rate = rates[_i];
            start(&hearing);
            for (uint32_t i = 0; i < rate * 6u / 10u; i++) {
                double x = 0;
                for (int k = 1; k <= 8 && k * hz < 0.45 * rate; k++) {
                    double level = timbre == 0   ? k == 1
                                   : timbre == 1 ? 1.0 / k
                                   : timbre == 2 ? (k == 1 ? 0.5 : 0.6 / k)
                                                 : (k % 2) / (double)k;
                    x += level * sin(2 * PI * hz * k * i / rate + k);
                }
                int16_t sample = (int16_t)lrint(6000 * x * exp(-(double)i / rate));
                REQUIRE(glanz_sound_push(sound, &sample, 1, 1, 0) == GLANZ_OK);
                if (i > rate / 5u && i % (rate / 100u) == 0) {
                    const struct glanz_heard *heard = glanz_sound_heard(sound);
                    asked++;
                    good += heard->pitch_trust > 40000 && fabs(heard->pitch / 65536.0 - note) < 0.5;
                }
            }
            all++;
            right += good * 10 >= asked * 9;
        }
    }
    printf("%u Hz: %d of %d notes within half a semitone\n", rates[_i], right, all);
    ck_assert_int_ge(right * 60, all * 56);
}
END_TEST

/* ---- the same whatever it is cut in ---- */

START_TEST(any_cutting) {
    struct sound is = sound_make(SOUND_TUNE, SEED + 1u, rates[_i], 3, 120);
    struct glanz_hearing hearing = {.rate_hz = rates[_i], .bands = 9, .hum_hz = 60};
    static struct glanz_heard whole[800];
    static uint16_t levels[800][9];
    static int8_t waves[800][GLANZ_WAVE_POINTS];
    static int16_t stereo[2 * 3 * 48000];
    for (int cut = 0; cut < 4; cut++) { /* by ticks, one by one, at random, one of two channels */
        unsigned state = SEED;
        uint32_t seen = 0;
        start(&hearing);
        for (size_t i = 0; i < is.count && cut == 3; i++) {
            stereo[2 * i] = (int16_t)(i * 7919u);
            stereo[2 * i + 1] = is.samples[i];
        }
        for (size_t at = 0; at < is.count;) {
            state = state * 1664525u + 1013904223u;
            size_t count = cut == 0 ? rates[_i] / 200u : cut == 1 ? 1 : (state >> 20) % 401u;
            count = count > is.count - at ? is.count - at : count;
            uint32_t time = (uint32_t)((at + count) * 1000000u / rates[_i]);
            ck_assert_int_eq(cut == 3 ? glanz_sound_push(sound, stereo + 2 * at + 1, count, 2, time)
                                      : glanz_sound_push(sound, is.samples + at, count, 1, time),
                             GLANZ_OK);
            at += count;
            const struct glanz_heard *heard = glanz_sound_heard(sound);
            if (heard->ticks == seen || heard->ticks >= 800) {
                continue;
            }
            seen = heard->ticks;
            struct glanz_heard now = *heard;
            now.band = NULL;
            now.wave = NULL;
            now.time_us = 0; /* within a microsecond, as the times of pushes are rounded */
            now.beat_us = 0;
            for (int r = 0; r < GLANZ_RANGES; r++) {
                now.onset[r].at_us = 0;
            }
            if (cut == 0) {
                whole[seen] = now;
                memcpy(levels[seen], heard->band, sizeof levels[seen]);
                memcpy(waves[seen], heard->wave, sizeof waves[seen]);
            } else if (whole[seen].ticks != 0) {
                REQUIRE_MSG(memcmp(&whole[seen], &now, sizeof now) == 0 &&
                                memcmp(levels[seen], heard->band, sizeof levels[seen]) == 0 &&
                                memcmp(waves[seen], heard->wave, sizeof waves[seen]) == 0,
                            "tick %u differs by its cutting", seen);
            }
        }
        ck_assert_uint_gt(seen, 590);
    }
    sound_free(&is);
}
END_TEST

/* Nothing overflows, and nothing drifts: a square wave at full scale, noise, the ends; for two minutes, or ten hours. */
START_TEST(extremes) {
    static const char *const names[] = {"square", "noise", "highest", "lowest", "highest and lowest"};
    struct glanz_hearing hearing = {.rate_hz = rates[_i / 5], .bands = 16, .hum_hz = (uint8_t)(_i / 5 % 2 == 0 ? 50 : 0)};
    uint32_t seconds = test_long() ? 36000 : test_slow() ? 4 : 24;
    uint32_t state = SEED;
    double first[16] = {0};
    double last[16] = {0};
    uint32_t rate = rates[_i / 5];
    start(&hearing);
    for (uint32_t s = 0; s < seconds; s++) {
        int16_t samples[480];
        double sum[16] = {0};
        for (uint32_t k = 0; k < 100; k++) {
            for (uint32_t i = 0; i < rate / 100u; i++) {
                uint32_t at = k * (rate / 100u) + i;
                state = state * 1664525u + 1013904223u;
                samples[i] = _i % 5 == 0   ? (at / (rate / 400u) % 2u ? 32767 : -32768)
                             : _i % 5 == 1 ? (int16_t)(state >> 16)
                             : _i % 5 == 2 ? 32767
                             : _i % 5 == 3 ? -32768
                                           : (at % 2u ? 32767 : -32768);
            }
            REQUIRE(glanz_sound_push(sound, samples, rate / 100u, 1, s * 1000000u + k * 10000u) == GLANZ_OK);
            for (uint8_t b = 0; b < 16; b++) {
                int16_t cdb = glanz_sound_band_cdb(sound, b);
                REQUIRE_MSG(cdb <= 500, "%s: band %u tells %d", names[_i % 5], b, cdb);
                sum[b] += pow(10, cdb / 1000.0) / 100;
            }
        }
        for (uint8_t b = 0; b < 16 && s >= 2; b++) {
            (s < seconds / 2 ? first : last)[b] += sum[b];
        }
    }
    for (uint8_t b = 0; b < 16 && seconds > 8; b++) {
        double halves = (last[b] / (seconds - seconds / 2)) / (first[b] / (seconds / 2 - 2) + 1e-12);
        ck_assert_msg(first[b] < 1e-6 || fabs(10 * log10(halves)) < 0.5, "%s: band %u drifts", names[_i % 5], b);
    }
    const struct glanz_heard *heard = glanz_sound_heard(sound);
    ck_assert(_i % 5 == 1 || heard->clipped != 0);
    ck_assert(_i % 5 < 2 || _i % 5 == 4 || heard->level[0] == 0); /* what stands still is no sound */
}
END_TEST

/* ---- silence, gate, gain ---- */

START_TEST(gate_and_silence) {
    struct glanz_hearing hearing = {.rate_hz = 16000, .silence_ms = 500};
    int16_t samples[160];
    uint32_t state = SEED;
    uint16_t noisy = 0;
    start(&hearing);
    for (int k = 0; k < 1200; k++) { /* 4 s of a quiet room, 4 s of a tone, 4 s of the room */
        for (int i = 0; i < 160; i++) {
            state = state * 1664525u + 1013904223u;
            int32_t x = (int32_t)(state >> 24) - 128;
            x = x / 4 + (k >= 400 && k < 800 ? (int32_t)(8000 * sin(2 * PI * 440 * (k * 160 + i) / 16000)) : 0);
            samples[i] = (int16_t)x;
        }
        ck_assert_int_eq(glanz_sound_push(sound, samples, 160, 1, (uint32_t)k * 10000u), GLANZ_OK);
        const struct glanz_heard *heard = glanz_sound_heard(sound);
        if (k > 200 && k < 400) {
            noisy = heard->level[0] > noisy ? heard->level[0] : noisy;
            ck_assert_int_eq(heard->silent, 1);
        } else if (k > 405 && k < 800) {
            ck_assert_int_eq(heard->silent, 0);
            ck_assert_uint_gt(heard->level[0], 30000);
        } else if (k > 900) {
            ck_assert_uint_lt(heard->level[0], 3000);
        }
        if (k > 905) {
            ck_assert_int_eq(heard->silent, 1);
        }
    }
    ck_assert_uint_eq(noisy, 0);
    /* digital silence is no room's noise: what is quiet counts at once afterwards */
    start(&hearing);
    for (int i = 0; i < 64000; i++) {
        int16_t sample = (int16_t)(i < 32000 ? 0 : lrint(100 * sin(2 * PI * 440 * i / 16000.0)));
        ck_assert_int_eq(glanz_sound_push(sound, &sample, 1, 1, (uint32_t)i * 62u), GLANZ_OK);
        if (i > 33600) {
            ck_assert_int_eq(glanz_sound_heard(sound)->silent, 0);
            ck_assert_uint_gt(glanz_sound_heard(sound)->level[0], 3000);
        }
    }
    /* where all is fixed, a level is what it says: 30 dB below "loudest" with a span of 40 is a quarter */
    struct glanz_hearing fixed = {.rate_hz = 16000, .span_db = 40, .loudest_db = 10, .gate_db = 70};
    start(&fixed);
    for (int i = 0; i < 32000; i++) {
        int16_t sample = (int16_t)lrint(32767 * 0.01 * sin(2 * PI * 440 * i / 16000.0));
        ck_assert_int_eq(glanz_sound_push(sound, &sample, 1, 1, 0), GLANZ_OK);
    }
    ck_assert_int_le(abs((int)glanz_sound_heard(sound)->level[0] - 16384), 700);
    ck_assert_int_le(abs(glanz_sound_heard(sound)->level_cdb + 4000), 30);
}
END_TEST

/* ---- peaks ---- */

/* The peak is that of the sound beside what stands still, at every rate and also where a block is a whole tick; what is at full
 * scale is counted. */
START_TEST(peaks_are_true) {
    static const double hz[] = {60, 80, 440, 1700};
    struct glanz_hearing hearing = {.rate_hz = rates[_i]};
    for (int k = 0; k < 4; k++) {
        int most = INT16_MIN;
        start(&hearing);
        for (uint32_t i = 0; i < 2u * rates[_i]; i++) {
            int16_t sample = (int16_t)lrint(32767 * (0.4 + 0.3 * sin(2 * PI * fmod(hz[k] * i / rates[_i], 1))));
            REQUIRE(glanz_sound_push(sound, &sample, 1, 1, 0) == GLANZ_OK);
            const struct glanz_heard *heard = glanz_sound_heard(sound);
            most = heard->ticks > 200 && heard->peak_cdb > most ? heard->peak_cdb : most;
        }
        ck_assert_msg(abs(most - (int)lrint(2000 * log10(0.3))) <= 12, "%g Hz at %u: %d", hz[k], (unsigned)rates[_i], most);
        ck_assert_uint_eq(glanz_sound_heard(sound)->clipped, 0);
    }
    static const int16_t edges[] = {INT16_MIN, -INT16_MAX, 0, INT16_MAX - 1, INT16_MAX};
    for (uint32_t i = 0; i < rates[_i] / 100u; i++) {
        ck_assert_int_eq(glanz_sound_push(sound, &edges[i % 5], 1, 1, 0), GLANZ_OK);
    }
    ck_assert_uint_ge(glanz_sound_heard(sound)->clipped, rates[_i] / 200u / 5u * 2u);
    ck_assert_uint_le(glanz_sound_heard(sound)->clipped, (rates[_i] / 100u / 5u + 1u) * 2u);
}
END_TEST

/* ---- misuse ---- */

START_TEST(misuse) {
    int has_wave = _i != 0;
    const struct glanz_sound_setup small = {NULL, NULL, has_wave ? &glanz_sound_wave : NULL, 8};
    static const struct {
        struct glanz_hearing hearing;
        const char *says;
    } wrongs[] = {{{.rate_hz = 0}, "rate"},
                  {{.rate_hz = 7999}, "rate"},
                  {{.rate_hz = 48001}, "rate"},
                  {{.rate_hz = 16000, .low_hz = 20}, "beyond"},
                  {{.rate_hz = 16000, .high_hz = 7300}, "beyond"},
                  {{.rate_hz = 16000, .bands = 33}, "narrower"},
                  {{.rate_hz = 16000, .bands = 32, .low_hz = 400, .high_hz = 7000}, "narrower"},
                  {{.rate_hz = 16000, .low_hz = 500, .high_hz = 400}, "narrower"},
                  {{.rate_hz = 16000, .span_db = 11}, "span"},
                  {{.rate_hz = 16000, .gate_db = 19}, "gate"},
                  {{.rate_hz = 16000, .hum_hz = 44}, "mains"},
                  {{.rate_hz = 16000, .hum_hz = 66}, "mains"},
                  {{.rate_hz = 16000, .adapts_ms = 99}, "times"},
                  {{.rate_hz = 16000, .fall_ms = 5001}, "times"},
                  {{.rate_hz = 16000, .silence_ms = 49}, "times"}};
    struct glanz_hearing fine = {.rate_hz = 16000};
    struct glanz_sound *is = NULL;
    int16_t sample = 0;
    ck_assert_uint_eq(glanz_sound_size(NULL), 0);
    ck_assert_int_eq(glanz_sound_start(NULL, &memory, sizeof memory, &small), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_start(&is, NULL, sizeof memory, &small), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_start(&is, &memory, sizeof memory, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_start(&is, memory.bytes + 1, sizeof memory - 8, &small), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_start(&is, &memory, glanz_sound_size(&small) - 1, &small), GLANZ_ERR_MEMORY);
    memset(&memory, 0xA5, sizeof memory);
    ck_assert_int_eq(glanz_sound_start(&is, &memory, glanz_sound_size(&small), &small), GLANZ_OK);
    ck_assert_uint_eq(memory.bytes[glanz_sound_size(&small)], 0xA5);
    ck_assert_uint_eq(glanz_sound_bands(is), 8);
    ck_assert_uint_eq(glanz_sound_bands(NULL), 0);
    ck_assert_int_eq(glanz_sound_push(is, &sample, 1, 1, 0), GLANZ_ERR_STATE);
    ck_assert_uint_eq(glanz_sound_heard(is)->ticks, 0);
    ck_assert_ptr_null(glanz_sound_heard(NULL));
    for (size_t i = 0; i < sizeof wrongs / sizeof *wrongs; i++) {
        const char *says = glanz_hearing_wrong(&wrongs[i].hearing);
        ck_assert_msg(says != NULL && strstr(says, wrongs[i].says) != NULL, "%zu: %s", i, says);
        ck_assert_int_eq(glanz_sound_listen(is, &wrongs[i].hearing), GLANZ_ERR_ARGUMENT);
    }
    struct glanz_hearing more = {.rate_hz = 16000, .bands = 9};
    ck_assert_int_eq(glanz_sound_listen(is, &more), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_sound_listen(NULL, &fine), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_listen(is, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_listen(is, &fine), GLANZ_OK);
    ck_assert_int_eq(glanz_sound_push(NULL, &sample, 1, 1, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_push(is, NULL, 1, 1, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_push(is, &sample, 1, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_push(is, NULL, 0, 1, 0), GLANZ_OK);
    ck_assert_int_eq(glanz_sound_band_cdb(is, 0), INT16_MIN); /* no tick yet */
    for (int i = 0; i < 80; i++) {
        ck_assert_int_eq(glanz_sound_push(is, &sample, 1, 1, 0), GLANZ_OK);
    }
    ck_assert_uint_eq(glanz_sound_heard(is)->ticks, 1);
    ck_assert_int_eq(glanz_sound_band_cdb(is, 8), INT16_MIN);
    ck_assert_int_eq(glanz_sound_band_cdb(NULL, 0), INT16_MIN);
    /* what was worked out elsewhere */
    uint16_t band[12] = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12};
    int8_t wave[GLANZ_WAVE_POINTS] = {1, -2, 3};
    struct glanz_heard told = {.ticks = 7, .bands = 12, .band = band, .wave = wave};
    ck_assert_int_eq(glanz_sound_push_heard(is, &told), GLANZ_OK);
    ck_assert_uint_eq(glanz_sound_heard(is)->ticks, 7);
    ck_assert_uint_eq(glanz_sound_heard(is)->bands, 8); /* there is room for no more */
    ck_assert_uint_eq(glanz_sound_heard(is)->band[7], 8);
    const struct glanz_heard *heard = glanz_sound_heard(is);
    ck_assert(has_wave ? heard->wave != wave && memcmp(heard->wave, wave, sizeof wave) == 0 : heard->wave == NULL);
    ck_assert_int_eq(glanz_sound_push_heard(is, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_sound_push_heard(NULL, &told), GLANZ_ERR_ARGUMENT);
    told.band = NULL;
    ck_assert_int_eq(glanz_sound_push_heard(is, &told), GLANZ_ERR_ARGUMENT);
    for (int bands = 1; bands <= GLANZ_BANDS_MOST; bands++) { /* the constant is enough */
        for (int with = 0; with < 8; with++) {
            struct glanz_sound_setup of = {with & 1 ? &glanz_sound_tempo : NULL, with & 2 ? &glanz_sound_pitch : NULL,
                                           with & 4 ? &glanz_sound_wave : NULL, (uint8_t)bands};
            ck_assert_uint_ge(GLANZ_SOUND_SIZE(bands, with & 1, with & 2, with & 4), glanz_sound_size(&of));
            ck_assert_uint_le(GLANZ_SOUND_SIZE(bands, with & 1, with & 2, with & 4), glanz_sound_size(&of) * 5 / 4 + 700);
        }
    }
}
END_TEST

Suite *sound_suite(void) {
    Suite *suite = suite_create("sound");
    TCase *bands = tcase_create("Bands");
    tcase_set_timeout(bands, 240);
    tcase_add_loop_test(bands, bands_tell_tones, 0, RATES * 5);
    tcase_add_loop_test(bands, quiet_beside_loud, 0, 2);
    tcase_add_loop_test(bands, hum_is_taken_out, 0, 2 * RATES);
    suite_add_tcase(suite, bands);
    TCase *events = tcase_create("Events");
    tcase_set_timeout(events, 240);
    tcase_add_loop_test(events, sounds_are_understood, 0, SOUND_FAMILIES + 1);
    tcase_add_loop_test(events, tempo_is_found_after, 0, 2 * BEFORES);
    tcase_add_loop_test(events, tempo_ends_with_sound, 0, 3);
    tcase_add_loop_test(events, notes_are_named, 0, RATES);
    tcase_add_test(events, gate_and_silence);
    suite_add_tcase(suite, events);
    TCase *limits = tcase_create("Limits");
    tcase_set_timeout(limits, test_long() ? 7200 : 240);
    tcase_add_loop_test(limits, any_cutting, 0, RATES);
    tcase_add_loop_test(limits, extremes, 0, RATES * 5);
    tcase_add_loop_test(limits, peaks_are_true, 0, RATES);
    tcase_add_loop_test(limits, misuse, 0, 2);
    suite_add_tcase(suite, limits);
    return suite;
}
