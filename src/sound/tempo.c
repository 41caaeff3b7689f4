/* SPDX-License-Identifier: MIT */
/* Tempo and beat: how the curve of onsets repeats itself, at 100 a second, and a clock that runs with it.
 *
 * A leaky autocorrelation tells how well the curve fits itself so much later. A period is as good as it fits at one, two, three
 * and four of it, each counted at most as much as the first, less how well it fits half-way, times how common the tempo is.
 *
 * When sound begins, a sum at a long lag begins later than one at a short lag, so that twice the tempo would fit better. The
 * sum of what repeats itself at a lag is what the curve's energy was that much earlier: by the energy then and now each sum is
 * grown. Where there was next to none nothing is known, which counts as somewhat less than what is. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

#define STEPS_PER_S 100u
#define SHORTEST 30u /* steps: 200 beats a minute */
#define LONGEST 100u /* 60 */
#define LAGS 408u    /* four of the longest, and some */
#define HISTORY 512u /* a power of two, above LAGS */
#define LEAK 8u      /* 2^8 steps: 2.6 s */
#define BEHIND 358u  /* the curve shows a beat so many 256ths of a step after it: resonators, ticks, the step itself */
#define EACH_STEP 8u /* periods that are weighed in one step */
#define APART 16u    /* steps from one energy that is remembered to the next */
#define GAINS (LAGS / APART + 1u)
#define ONCE 256u       /* a gain of 1 */
#define GAIN_MOST 2048u /* above it a lag is not known */
#define ENERGY_LEAST 8u /* of 65025: below it nothing is known */
#define GUESSED 12u     /* a multiple that is not known counts so many sixteenths of the mean of those that are */
#define LOW_COUNTS 6u   /* times more than the rest */
#define LEAST_RISE 400u /* of each part: 4.7 dB. The curve's full height is not less */
#define LEAK_SILENT 4u  /* in silence what was is forgotten: 2^4 steps */
#define BARE 8u         /* the curve's height below which a beat bears nothing */

/* How common a period is, from SHORTEST on: 65536 at 48 steps, 125 beats a minute, half of it 0.85 octaves away:
 * 65536 * 2^-((log2(period / 48) / 0.85)^2). */
static GLANZ_CONST uint16_t common[LONGEST - SHORTEST + 1u] = {
    42293, 44849, 47151, 49596, 51758, 53641, 55602, 57270, 58813, 60090, 61370, 62391, 63277, 64021, 64565,
    64990, 65294, 65476, 65535, 65491, 65351, 65078, 64739, 64307, 63790, 63277, 62598, 61841, 61128, 60360,
    59398, 58517, 57587, 56617, 55774, 54726, 53641, 52709, 51565, 50589, 49596, 48382, 47356, 46318, 45269,
    44212, 43148, 42080, 41221, 40146, 39070, 38210, 37139, 36284, 35219, 34371, 33319, 32483, 31653, 30830,
    30013, 29207, 28408, 27616, 26836, 26065, 25303, 24554, 23815, 23268, 22549};

struct tempo {
    uint32_t fit[LAGS];
    uint8_t curve[HISTORY];           /* newest at `at` */
    uint16_t energy[HISTORY / APART]; /* a 256th of its fit at no lag, when it was at each multiple of APART */
    uint16_t gains[GAINS];            /* of lags around each multiple, 8.8; 0: not known */
    uint16_t at;
    uint8_t half;     /* a step is two ticks */
    uint8_t is_whole; /* all sums are as long as they will be */
    uint8_t weighing; /* the period that is weighed next, less SHORTEST */
    uint32_t rise;    /* of the tick before */
    uint32_t largest; /* rise of late, 24.8 */
    uint32_t mean;    /* fit of all lags, on average */
    uint32_t best;    /* score in this round, and its period */
    uint32_t second;  /* of a period that is not next to it */
    uint16_t best_lag;
    uint16_t lag;    /* the period that counts; 0: none */
    uint32_t score;  /* of that, in this round */
    uint8_t other;   /* rounds in a row in which another was better */
    uint8_t steady;  /* rounds in which it has stayed */
    uint32_t period; /* of the clock, steps 24.8 */
    uint32_t since;  /* the newest beat, steps 24.8 */
    uint16_t fits;   /* how well the period fits, 0 to 65535 */
    uint16_t borne;  /* the curve's peak on a beat, on average of some, 8.8 */
    uint16_t peaks;  /* its peak from one beat to the next, likewise */
};

static uint32_t gain_at(const struct tempo *tempo, uint32_t lag) {
    return tempo->is_whole ? ONCE : tempo->gains[(lag + APART / 2u) / APART];
}

static int is_known(const struct tempo *tempo, uint32_t lag) {
    return gain_at(tempo, lag) != 0;
}

/* What a sum at that lag would be, had the sound been there before. */
static uint32_t grown(const struct tempo *tempo, uint32_t lag, uint32_t sum) {
    return (sum >> 4) * gain_at(tempo, lag) >> 4;
}

static uint32_t energy_then(const struct tempo *tempo, uint32_t multiple) {
    return tempo->energy[((tempo->at + APART / 2u) / APART - multiple) % (HISTORY / APART)];
}

/* Whether all sums are as long as they will be: sound was as strong all the while. */
static int all_are_whole(const struct tempo *tempo) {
    uint32_t now = tempo->fit[0] >> 8;
    int whole = now >= ENERGY_LEAST;
    for (uint32_t i = 1; i < GAINS && whole; i++) {
        whole = energy_then(tempo, i) >= now - now / 4u;
    }
    return whole;
}

static void measure_gains(struct tempo *tempo) {
    uint32_t now = tempo->fit[0] >> 8;
    for (uint32_t i = 1; i < GAINS; i++) {
        uint32_t then = energy_then(tempo, i);
        uint32_t gain = then >= now ? ONCE : then * (GAIN_MOST / ONCE) < now ? 0 : now * ONCE / then;
        tempo->gains[i] = (uint16_t)(then < ENERGY_LEAST ? 0 : gain);
    }
}

static uint32_t above_mean(const struct tempo *tempo, uint32_t lag) {
    const uint32_t *at = tempo->fit + lag;
    uint32_t left = at[-1];
    uint32_t right = at[1];
    uint32_t fit =
        at[0] / 2u + (left > right ? left + right / 2u : right + left / 2u); /* a period between two lags fits both */
    fit = grown(tempo, lag, fit);
    return fit > 2u * tempo->mean ? (fit - 2u * tempo->mean) >> 4 : 0;
}

static uint32_t at_most(uint32_t a, uint32_t most) {
    return a < most ? a : most;
}

static void begin(struct glanz_sound *sound) {
    memset(sound->tempo, 0, sizeof(struct tempo));
}

static uint32_t score_of(const struct tempo *tempo, uint32_t lag) {
    uint32_t one = above_mean(tempo, lag);
    uint32_t all = one;
    uint32_t known = 1;
    for (uint32_t at = 2u * lag; at <= 4u * lag && is_known(tempo, at); at += lag) {
        all += at_most(above_mean(tempo, at), one);
        known++;
    }
    if (known != 4) {
        uint32_t each = known == 1 ? all : known == 2 ? all / 2u : all / 3u;
        all += (each >> 4) * GUESSED * (4u - known);
    }
    uint32_t half = above_mean(tempo, lag + lag / 2u);
    uint32_t later = 2u * lag + lag / 2u;
    half += is_known(tempo, later) ? above_mean(tempo, later) : half;
    all = all > half ? all - half : 0;
    return glanz_times_here(all, common[lag - SHORTEST]);
}

/* The curve goes on by a step. @param least rise that is shown in full height. */
static void step_curve(struct tempo *tempo, uint32_t rise, uint32_t least, uint8_t leak) {
    uint32_t fine = rise << 8;
    tempo->largest = fine > tempo->largest ? fine : tempo->largest - (tempo->largest >> leak) / 2u;
    uint32_t full = tempo->largest > least << 8 ? tempo->largest : least << 8;
    tempo->at = (uint16_t)((tempo->at + 1u) % HISTORY);
    uint8_t now = (uint8_t)(glanz_ratio(fine, full) * 255u >> 16);
    tempo->curve[tempo->at] = now;
    /* from the newest back to where the ring begins, and on from its end */
    uint32_t *fit = tempo->fit;
    const uint32_t *end = fit + LAGS;
    const uint8_t *then = tempo->curve + tempo->at;
    for (const uint32_t *edge = tempo->at + 1u < LAGS ? fit + tempo->at + 1u : end; fit != edge; fit++) {
        *fit += (uint32_t)now * *then-- - (*fit >> leak);
    }
    for (then = tempo->curve + HISTORY - 1u; fit != end; fit++) {
        *fit += (uint32_t)now * *then-- - (*fit >> leak);
    }
    if (tempo->at % APART == 0) {
        tempo->energy[tempo->at / APART] = (uint16_t)(tempo->fit[0] >> 8);
    }
}

/* The period to a part of a step, from where the curve fits best at four of it. */
static uint32_t fine_period(const struct tempo *tempo, uint32_t lag) {
    uint32_t times = 4;
    uint32_t best = times * lag;
    for (uint32_t i = times * lag - times; i <= times * lag + times && i + 1u < LAGS; i++) {
        best = tempo->fit[i] > tempo->fit[best] ? i : best;
    }
    int32_t left = (int32_t)(tempo->fit[best - 1u] >> 8);
    int32_t middle = (int32_t)(tempo->fit[best] >> 8);
    int32_t right = best + 1u < LAGS ? (int32_t)(tempo->fit[best + 1u] >> 8) : left;
    int32_t bend = left - 2 * middle + right;
    int32_t aside = bend < 0 ? (left - right) * 128 / bend : 0;
    return (uint32_t)((int32_t)(best << 8) + aside) / times;
}

/* How long ago the newest beat was, by where the curve is highest at each period: steps. */
static uint32_t phase_of(const struct tempo *tempo) {
    uint32_t best = 0;
    uint32_t most = 0;
    for (uint32_t o = 0; o << 8 < tempo->period; o++) {
        uint32_t sum = 0;
        for (uint32_t k = 0; k < 4; k++) {
            uint32_t back = o + ((k * tempo->period + 128u) >> 8);
            sum += (uint32_t)tempo->curve[(tempo->at - back) % HISTORY] * 2u + tempo->curve[(tempo->at - back - 1u) % HISTORY] +
                   tempo->curve[(tempo->at - back + 1u) % HISTORY];
        }
        if (sum > most) {
            most = sum;
            best = o;
        }
    }
    return best;
}

/* How far beats bear what rises most, 0 to 65536: where something else does throughout, the tempo is another. 0 up to three
 * quarters, all from seven eighths. */
static uint32_t borne(const struct tempo *tempo) {
    uint32_t ratio = tempo->peaks == 0 ? 0 : glanz_ratio(tempo->borne, tempo->peaks);
    return ratio <= 49152u ? 0 : at_most((ratio - 49152u) * 8u, 65536);
}

/* Fit of all lags that are known, on average. Those that no period comes near, below 24, are left out. */
static uint32_t mean_of(const struct tempo *tempo) {
    uint64_t sum = 0;
    uint32_t known = 0;
    const uint32_t *fit = tempo->fit + APART + APART / 2u;
    for (uint32_t i = 2; i < GAINS; i++) {
        uint32_t some = 0;
        for (const uint32_t *end = fit + APART; fit != end; fit++) {
            some += *fit >> 4;
        }
        uint32_t gain = gain_at(tempo, i * APART);
        sum += (uint64_t)some * gain >> 4;
        known += gain != 0 ? APART : 0;
    }
    return known == 0 ? 0 : (uint32_t)(sum / known);
}

/* All periods have been weighed: the best one counts, if it is clearly better than the one that did. */
static void end_round(struct glanz_sound *sound, struct tempo *tempo) {
    uint32_t near = tempo->lag / 24u + 1u;
    int same = tempo->lag != 0 && tempo->best_lag + near >= tempo->lag && tempo->best_lag <= tempo->lag + near;
    tempo->steady = (uint8_t)(!same ? tempo->steady / 2u : tempo->steady < 16 ? tempo->steady + 1u : 16u);
    tempo->other = (uint8_t)(same ? 0 : tempo->other < 255 ? tempo->other + 1 : 255);
    if (tempo->best != 0 && (same || tempo->lag == 0 || (tempo->best > tempo->score + tempo->score / 4u && tempo->other >= 6) ||
                             (tempo->best > tempo->score && tempo->other >= 3 && tempo->peaks != 0 && borne(tempo) == 0))) {
        if (!same) {
            tempo->steady = 0;
            tempo->since = 0;
            tempo->borne = 0;
            tempo->peaks = 0;
        }
        tempo->lag = tempo->best_lag;
        uint32_t period = fine_period(tempo, tempo->lag);
        if (!same) {
            tempo->period = period;
            tempo->since = (phase_of(tempo) << 8) + BEHIND;
        } else {
            tempo->period = tempo->period + (uint32_t)glanz_over((int32_t)(period - tempo->period), 2);
        }
        uint32_t all = tempo->fit[0];
        uint32_t fit = grown(tempo, tempo->lag, tempo->fit[tempo->lag]);
        all = all > tempo->mean ? all - tempo->mean : 1;
        fit = fit > tempo->mean ? fit - tempo->mean : 0;
        uint32_t clear =
            glanz_ratio(tempo->best - (tempo->second < tempo->best ? tempo->second : tempo->best), tempo->best) * 3u;
        uint32_t ratio = glanz_share_of(glanz_ratio(fit, all), clear > 65536u ? 65536u : clear) * 2u;
        tempo->fits = (uint16_t)(ratio > 65535u ? 65535u : ratio);
    }
    if (tempo->fit[0] < ENERGY_LEAST << 8) { /* it has been silent: nothing is known of what comes next */
        tempo->lag = 0;
        tempo->period = 0;
        tempo->steady = 0;
    }
    if (tempo->lag != 0) { /* the clock is drawn towards the beats */
        int32_t ago = (int32_t)((phase_of(tempo) << 8) + BEHIND);
        int32_t off = ago - (int32_t)tempo->since;
        int32_t period = (int32_t)tempo->period;
        off = off > period / 2 ? off - period : off < -period / 2 ? off + period : off;
        int32_t since = (int32_t)tempo->since + off / 4;
        tempo->since = (uint32_t)(since < 0 ? 0 : since);
    }
    sound->now.trust = (uint16_t)(glanz_share_of(tempo->fits, borne(tempo)) * tempo->steady / 16u);
    sound->now.period_us = tempo->period * 1000u * 10u / 256u;
    tempo->best = 0;
    tempo->second = 0;
    tempo->best_lag = 0;
    tempo->weighing = 0;
    tempo->is_whole = (uint8_t)all_are_whole(tempo);
    tempo->mean = mean_of(tempo);
}

static void weigh(struct glanz_sound *sound, struct tempo *tempo) {
    if (!tempo->is_whole) {
        measure_gains(tempo);
    }
    for (uint32_t i = 0; i < EACH_STEP; i++) {
        uint32_t lag = SHORTEST + tempo->weighing++;
        if (lag > LONGEST) {
            end_round(sound, tempo);
            return;
        }
        uint32_t score = score_of(tempo, lag);
        int is_next = tempo->best_lag != 0 && lag - tempo->best_lag <= 1u + lag / 12u;
        if (score > tempo->best) {
            tempo->second = is_next ? tempo->second : tempo->best;
            tempo->best = score;
            tempo->best_lag = (uint16_t)lag;
        } else if (!is_next && score > tempo->second) {
            tempo->second = score;
        }
        tempo->score = lag == tempo->lag ? score : tempo->score;
    }
}

/* Steps around a beat in which the curve shows what it bears. */
static uint32_t reach_of(const struct tempo *tempo) {
    return 2u + (tempo->period >> 12);
}

/* The largest of the curve in so many of its newest steps. */
static uint32_t peak_of(const struct tempo *tempo, uint32_t steps) {
    uint32_t peak = 0;
    for (uint32_t i = 0; i < steps; i++) {
        uint32_t is = tempo->curve[(tempo->at - i) % HISTORY];
        peak = is > peak ? is : peak;
    }
    return peak;
}

/* A beat was due: what did it bear, of all that rose since the one before? */
static void ask_beat(struct tempo *tempo) {
    int32_t on = (int32_t)peak_of(tempo, 2u * reach_of(tempo)) << 8;
    int32_t all = (int32_t)peak_of(tempo, tempo->period >> 8) << 8;
    if (all < (int32_t)BARE << 8) { /* nothing rose at all: tunes leave out the beats of a bar, not of two */
        tempo->borne = (uint16_t)(tempo->borne - tempo->borne / 32u);
        return;
    }
    tempo->borne = (uint16_t)(tempo->borne + glanz_over(on - tempo->borne, 3));
    tempo->peaks = (uint16_t)(tempo->peaks + glanz_over(all - tempo->peaks, 3));
}

static void tick(struct glanz_sound *sound, uint32_t rise, uint32_t low_rise) {
    struct tempo *tempo = (struct tempo *)sound->tempo;
    uint32_t now = rise + LOW_COUNTS * low_rise;
    tempo->half ^= 1u;
    if (tempo->half != 0) {
        tempo->rise = now;
        return;
    }
    uint32_t parts = sound->watches[GLANZ_RANGE_ALL].parts + LOW_COUNTS * sound->watches[GLANZ_RANGE_LOW].parts;
    step_curve(tempo, now > tempo->rise ? now : tempo->rise, LEAST_RISE * parts, sound->now.silent ? LEAK_SILENT : LEAK);
    tempo->since += 256u;
    weigh(sound, tempo);
    if (tempo->lag != 0 && tempo->since >> 8 == reach_of(tempo)) {
        ask_beat(tempo);
    }
    if (tempo->lag != 0 && tempo->since >= tempo->period) {
        tempo->since -= tempo->period;
        sound->now.beats++;
        sound->now.beat_us = sound->now.time_us - tempo->since * 10000u / 256u;
    }
}

const struct glanz_tempo_part glanz_sound_tempo = {sizeof(struct tempo), begin, tick};

#endif
