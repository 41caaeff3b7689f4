/* SPDX-License-Identifier: MIT */
/* Bands: the signal halved in rate again and again; each band is measured high in the lowest rate that holds it, by three
 * resonators in a row that make a Butterworth band-pass of order six. There a short word is enough for its coefficients, and
 * low bands cost next to nothing. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

#define WIDE 39322u   /* 0.6 octaves: wider ones let more through of what is far below them */
#define WIDEST 91750u /* 1.4 octaves that three resonators can measure, 16.16 */

/* ---- layout ---- */

static uint32_t root64(uint64_t number) {
    uint64_t root = 0;
    for (uint64_t bit = (uint64_t)1 << 62; bit != 0; bit >>= 2) {
        if (number >= root + bit) {
            number -= root + bit;
            root = (root >> 1) + bit;
        } else {
            root >>= 1;
        }
    }
    return (uint32_t)root;
}

/* Tangent of pi times a frequency over a rate, 16.16: what the bilinear transform puts in its place. */
static int64_t warped(uint32_t edge, uint32_t rate) {
    uint16_t turn = (uint16_t)(((uint64_t)edge << 15) / rate);
    return ((int64_t)glanz_sine(turn) << 16) / glanz_sine((uint16_t)(turn + 16384u));
}

static int16_t rounded(int64_t num, int64_t den) {
    num *= 4096;
    return (int16_t)((num < 0 ? num - den / 2 : num + den / 2) / den);
}

/* s / (s^2 + 2 real s + square), times the width: by the bilinear transform. All 16.16. */
static void lay_resonator(struct resonator *resonator, int64_t width, int64_t real, int64_t square) {
    int64_t den = 65536 + 2 * real + square;
    resonator->first = rounded(2 * (65536 - square), den);
    resonator->second = rounded(65536 - 2 * real + square, den);
    resonator->gain = rounded(width, den);
    resonator->next = 0;
    resonator->later = 0;
}

/* What a resonator does to the power of a tone, by its rounded coefficients: a logarithm, 16.16. @param turn its angle a
 * sample. */
static int32_t response(const struct resonator *resonator, uint16_t turn) {
    int64_t real = (4096 << 15) - (int64_t)resonator->first * glanz_sine((uint16_t)(turn + 16384u)) +
                   (int64_t)resonator->second * glanz_sine((uint16_t)(2u * turn + 16384u));
    int64_t imaginary =
        (int64_t)resonator->first * glanz_sine(turn) - (int64_t)resonator->second * glanz_sine((uint16_t)(2u * turn));
    uint32_t den = root64((uint64_t)(real * real + imaginary * imaginary));
    uint32_t num = (uint32_t)(2 * resonator->gain * glanz_sine(turn));
    return 2 * ((int32_t)glanz_log2(num) - (int32_t)glanz_log2(den));
}

/* Poles of a Butterworth low-pass of order three, made those of a band-pass. */
static void lay_part(struct part *part, uint32_t low, uint32_t high, uint32_t rate, int is_slow, int is_steep) {
    const int64_t half_root3 = 56756; /* sqrt(3)/2, 16.16 */
    int64_t from = warped(low, rate);
    int64_t to = warped(high, rate);
    int64_t width = to - from;
    int64_t middle = (from * to) >> 16;     /* squared */
    int64_t square = (width * width) >> 11; /* an eighth of it, 40.24 */
    int64_t real = square + (middle << 8);  /* of (p width / 2)^2 - middle, both signs turned, 40.24 */
    int64_t imaginary = (square * (half_root3 * 2)) >> 16;
    uint64_t size = root64((uint64_t)(real * real + imaginary * imaginary));
    int64_t up = (int64_t)root64(((size + (uint64_t)real) / 2u) << 8);
    int64_t aside = (imaginary << 8) / (2 * up);
    int64_t lift = (half_root3 * width) >> 17; /* sqrt(3)/4 width */
    int64_t lower = width / 4 - aside;
    int64_t upper = width / 4 + aside;
    lay_resonator(&part->resonators[0], width, width / 2, middle);
    lay_resonator(&part->resonators[1], width, lower, (lower * lower + (up - lift) * (up - lift)) >> 16);
    lay_resonator(&part->resonators[2], width, upper, (upper * upper + (up + lift) * (up + lift)) >> 16);
    uint32_t centre = root64(((uint64_t)low * high) << 16); /* with 8 bits more */
    uint16_t turn = (uint16_t)(((uint64_t)centre << 8) / rate);
    int32_t offset = 0;
    for (uint8_t i = 0; i < 3; i++) {
        offset -= response(&part->resonators[i], turn);
    }
    if (is_steep) { /* half the difference of neighbours: the sine of half the angle */
        offset -= 2 * (int32_t)glanz_log2((uint32_t)glanz_sine(turn / 2u)) - 30 * 65536;
    }
    part->cosine = 0;
    if (is_slow) { /* neighbours tell twice the square of the sine times what one tells */
        part->cosine = (int16_t)(glanz_sine((uint16_t)(turn + 16384u)) / 2);
        offset -= 2 * (int32_t)glanz_log2((uint32_t)glanz_sine(turn)) - 29 * 65536;
    }
    part->offset = (int16_t)glanz_over(offset, 8);
}

#define HUM_WIDE 40u /* 16ths of Hz to either side: a mains is seldom off by more than a tenth of that */

/* Resonators that pass the hum as it is, for what they pass to be taken out: at the lowest rate that holds all of it well. */
static void lay_hums(struct glanz_sound *sound) {
    uint32_t hum = sound->hearing.hum_hz * 16u;
    uint32_t rate = (uint32_t)sound->hearing.rate_hz << 4;
    sound->hum_octave = OCTAVES;
    if (hum == 0) {
        return;
    }
    for (sound->hum_octave = 0; rate >= 32u * hum; rate >>= 1) {
        sound->hum_octave++;
    }
    for (uint8_t i = 0; i < HUMS; i++) {
        int64_t from = warped(hum * (i + 1u) - HUM_WIDE, rate);
        int64_t to = warped(hum * (i + 1u) + HUM_WIDE, rate);
        lay_resonator(&sound->hums[i], to - from, (to - from) / 2, (from * to) >> 16);
    }
}

static uint8_t octave_of(uint32_t high, uint32_t rate) {
    uint8_t octave = 0;
    while (octave + 1u < OCTAVES && (uint64_t)high * 5u <= (uint64_t)(rate >> (octave + 1u)) * 2u) {
        octave++;
    }
    return octave;
}

void glanz_bands_lay_out(struct glanz_sound *sound) {
    struct glanz_hearing fine = sound->hearing;
    uint32_t octaves = glanz_log2(fine.high_hz) - glanz_log2(fine.low_hz);
    sound->parts_a_band = 1; /* an odd number of them, so that a band's middle is one's middle too */
    while (octaves > WIDEST * fine.bands * sound->parts_a_band) {
        sound->parts_a_band = (uint8_t)(sound->parts_a_band + 2u);
    }
    fine.bands = (uint8_t)(fine.bands * sound->parts_a_band);
    sound->is_steep = octaves > WIDE * fine.bands;
    sound->part_count = fine.bands;
    memset(sound->octaves, 0, sizeof sound->octaves);
    lay_hums(sound);
    uint32_t rate = (uint32_t)fine.rate_hz << 4;
    uint32_t low = glanz_hearing_edge(&fine, 0);
    sound->octave_count = 0;
    for (uint8_t i = 0; i < fine.bands; i++) {
        struct part *part = &sound->parts[i];
        uint32_t high = glanz_hearing_edge(&fine, (uint8_t)(i + 1u));
        memset(part, 0, sizeof *part);
        part->octave = octave_of(high, rate);
        struct octave *octave = &sound->octaves[part->octave];
        octave->first = octave->count == 0 ? i : octave->first;
        octave->count++;
        sound->octave_count = part->octave >= sound->octave_count ? (uint8_t)(part->octave + 1u) : sound->octave_count;
        lay_part(part, low, high, rate >> part->octave, (rate >> part->octave) < 16u * 8u * TICKS_PER_S, sound->is_steep);
        uint32_t middle = (low + high) / 2u;
        part->range = middle < 200u * 16u ? GLANZ_RANGE_LOW : middle < 2000u * 16u ? GLANZ_RANGE_MIDDLE : GLANZ_RANGE_HIGH;
        part->power = NO_POWER;
        low = high;
    }
}

/* ---- a block ---- */

/* Samples through a resonator; `out` may be `in`. Sums may wrap on their way to a result that fits. In this form (the
 * transposed direct one) it remembers two sums, and what each sample adds to them is worked out once. */
static GLANZ_NOINLINE void resonate(struct resonator *resonator, const int32_t *in, int32_t *out, uint32_t count) {
    const uint32_t gain = (uint32_t)resonator->gain;
    const uint32_t first = (uint32_t)resonator->first;
    const uint32_t second = (uint32_t)resonator->second;
    uint32_t next = resonator->next;
    uint32_t later = resonator->later;
    const int32_t *end = in + count;
    while (in != end) {
        uint32_t x = (uint32_t)*in++ * gain;
        int32_t y = glanz_over((int32_t)(x + next), 12);
        *out++ = y;
        next = first * (uint32_t)y - later;
        later = second * (uint32_t)y + x;
    }
    resonator->next = next;
    resonator->later = later;
}

/* Squares of what may be loud: bits below the sample's last are left out. Products are of 32 bits, modulo which they are right:
 * a part passes at most twice the full scale. */
static GLANZ_NOINLINE void measure_loud(struct part *part, int32_t before, const int32_t *work, uint8_t count) {
    uint64_t sum = part->sum;
    if (part->cosine == 0) {
        for (uint8_t i = 0; i < count; i++) {
            uint32_t y = (uint32_t)glanz_over(work[i], SIGNAL_BITS);
            sum += y * y;
        }
        part->sum = sum;
        return;
    }
    uint32_t x = (uint32_t)glanz_over(before, SIGNAL_BITS);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t y = (uint32_t)glanz_over(work[i], SIGNAL_BITS);
        sum += (uint64_t)(y * y) + x * x;
        part->cross += (int32_t)(y * x);
        x = y;
    }
    part->sum = sum;
}

#define LOUDEST_QUIET 46340 /* whose square fits */

static inline int32_t within(int32_t y) {
    if ((uint32_t)(y + LOUDEST_QUIET) > 2u * LOUDEST_QUIET) {
        return y < 0 ? -LOUDEST_QUIET : LOUDEST_QUIET;
    }
    return y;
}

/* Squares of what was quiet in the tick before: all bits count, and what is louder now is cut off. */
static GLANZ_NOINLINE void measure_quiet(struct part *part, int32_t before, const int32_t *work, uint8_t count) {
    uint64_t sum = part->sum;
    const int32_t *end = work + count;
    if (part->cosine == 0) {
        while (work != end) {
            uint32_t y = (uint32_t)within(*work++);
            sum += y * y;
        }
        part->sum = sum;
        return;
    }
    int32_t x = within(before);
    while (work != end) {
        int32_t y = within(*work++);
        sum += (uint64_t)(uint32_t)(y * y) + (uint32_t)(x * x);
        part->cross += y * x;
        x = y;
    }
    part->sum = sum;
}

static void measure(struct part *part, const int32_t *samples, uint8_t count) {
    int32_t work[BLOCK];
    resonate(&part->resonators[0], samples, work, count);
    resonate(&part->resonators[1], work, work, count);
    resonate(&part->resonators[2], work, work, count);
    if (part->is_quiet) {
        measure_quiet(part, part->last, work, count);
    } else {
        measure_loud(part, part->last, work, count);
    }
    part->last = work[count - 1u];
}

/* Coefficients of four all-passes: an elliptic half-band filter that is flat up to 0.2 of its rate and 68 dB down from 0.3.
 * From R. Valenzuela and A. Constantinides, "Digital signal processing schemes for efficient interpolation and decimation", IEE
 * Proceedings 130 G (1983); the last bits by trial. */
static GLANZ_NOINLINE void pass_all(int32_t state[3], int32_t *samples, uint32_t count, int32_t a, int32_t b) {
    int32_t before = state[0];
    int32_t first = state[1];
    int32_t second = state[2];
    for (; count != 0; count--, samples += 2) {
        int32_t x = *samples;
        int32_t next = before + glanz_over((x - first) * a, 12);
        before = x;
        second = first + glanz_over((next - second) * b, 12);
        first = next;
        *samples = second;
    }
    state[0] = before;
    state[1] = first;
    state[2] = second;
}

/* Every second sample goes through either branch. @return samples of half the rate, in place. */
static uint8_t halve(struct halver *halver, int32_t *samples, uint8_t count) {
    uint8_t odd = !halver->is_waiting; /* the first that ends a pair */
    uint8_t made = (uint8_t)((count + halver->is_waiting) / 2u);
    pass_all(halver->even, samples + !odd, (uint32_t)((count + odd) / 2u), 1162, 3419);
    pass_all(halver->odd, samples + odd, made, 326, 2235);
    int32_t left = count != 0 ? samples[count - 1u] : 0;
    uint8_t waits = (uint8_t)((count + halver->is_waiting) & 1u);
    const int32_t *from = samples + odd;
    int32_t even = odd ? samples[0] : halver->waiting;
    for (int32_t *to = samples, *end = samples + made; to != end; from += 2) {
        *to++ = glanz_over(even + from[0], 1);
        even = from[1]; /* of the last pair, there is one sample behind it or none: it is not used then */
    }
    halver->is_waiting = waits;
    halver->waiting = left;
    return made;
}

/* What is far below wide bands would come through them: differences have less of it. */
static void make_steep(struct octave *octave, int32_t *steep, const int32_t *samples, uint8_t count) {
    int32_t before = octave->last;
    for (uint8_t i = 0; i < count; i++) {
        int32_t x = samples[i];
        steep[i] = glanz_over(x - before, 1);
        before = x;
    }
    octave->last = before;
}

static void take_hum(struct glanz_sound *sound, int32_t *samples, uint8_t count) {
    int32_t hum[BLOCK];
    for (uint8_t i = 0; i < HUMS; i++) {
        resonate(&sound->hums[i], samples, hum, count);
        for (uint8_t k = 0; k < count; k++) {
            samples[k] -= hum[k];
        }
    }
}

void glanz_bands_hear(struct glanz_sound *sound, int32_t *samples, uint8_t count) {
    int32_t steep[BLOCK];
    const int32_t *measured = sound->is_steep ? steep : samples;
    for (uint8_t o = 0; o < sound->octave_count && count != 0; o++) {
        struct octave *octave = &sound->octaves[o];
        if (o == sound->hum_octave) {
            take_hum(sound, samples, count);
        }
        if (sound->is_steep) {
            make_steep(octave, steep, samples, count);
        }
        for (uint8_t p = octave->first; p < octave->first + octave->count; p++) {
            measure(&sound->parts[p], measured, count);
        }
        octave->samples = (uint16_t)(octave->samples + count);
        count = o + 1u < sound->octave_count ? halve(&octave->halver, samples, count) : 0;
    }
}

/* ---- a tick ---- */

int32_t glanz_power_of(uint64_t sum) {
    int32_t bits = 0;
    uint32_t high = (uint32_t)(sum >> 32);
    uint32_t low = (uint32_t)sum;
    for (; high != 0; high >>= 8) {
        low = low >> 8 | high << 24;
        bits += 8 * 256;
    }
    return low == 0 ? 0 : bits + (int32_t)(glanz_log2(low) >> 8);
}

void glanz_bands_tick(struct glanz_sound *sound) {
    for (uint8_t o = 0; o < sound->octave_count; o++) {
        struct octave *octave = &sound->octaves[o];
        if (octave->samples == 0) {
            continue; /* its rate is below that of ticks */
        }
        int32_t mean = (int32_t)(glanz_log2(octave->samples) >> 8);
        for (uint8_t p = octave->first; p < octave->first + octave->count; p++) {
            struct part *part = &sound->parts[p];
            if (part->cosine != 0) {
                int64_t sum = (int64_t)part->sum - part->cross * part->cosine / 8192;
                part->sum = sum < 0 ? 0 : (uint64_t)sum;
            }
            int32_t power = glanz_power_of(part->sum) - mean + part->offset + (part->is_quiet ? 0 : 2 * SIGNAL_BITS * 256);
            part->power = (int16_t)(part->sum == 0 || power < 0 ? 0 : power);
            part->is_quiet = power < FULL_SCALE - DB(36);
            part->sum = 0;
            part->cross = 0;
        }
        octave->samples = 0;
    }
}

int32_t glanz_band_power(const struct glanz_sound *sound, uint8_t band) {
    const struct part *parts = &sound->parts[band * sound->parts_a_band];
    if (sound->parts_a_band == 1) {
        return parts->power < 0 ? 0 : parts->power;
    }
    int32_t most = 0;
    for (uint8_t i = 0; i < sound->parts_a_band; i++) {
        most = parts[i].power > most ? parts[i].power : most;
    }
    uint32_t all = 0;
    for (uint8_t i = 0; i < sound->parts_a_band; i++) {
        all += parts[i].power < 0 ? 0 : glanz_halving((uint32_t)(most - parts[i].power) << 8);
    }
    return most + (int32_t)(glanz_log2(all) >> 8) - 16 * 256;
}

#endif
