/* SPDX-License-Identifier: MIT */
/* What listening costs: instructions a sample, for a second of clicks and tones, and the dearest tick. */
#include "bench.h"

#include <glanz/sound.h>

static GLANZ_SOUND_MEMORY(memory, 32, 1, 1, 0);

static const struct {
    const char *name, *worst;
    uint16_t rate;
    uint8_t bands, tempo, pitch;
} cases[] = {
    {"hearing 8 bands 16000", "hearing dearest tick 8 bands 16000", 16000, 8, 1, 0},
    {"hearing 16 bands 16000", "hearing dearest tick 16 bands 16000", 16000, 16, 1, 0},
    {"hearing 32 bands 16000", "hearing dearest tick 32 bands 16000", 16000, 32, 1, 0},
    {"hearing 16 bands 8000", "hearing dearest tick 16 bands 8000", 8000, 16, 1, 0},
    {"hearing 16 bands 22050", "hearing dearest tick 16 bands 22050", 22050, 16, 1, 0},
    {"hearing 16 bands 44100", "hearing dearest tick 16 bands 44100", 44100, 16, 1, 0},
    {"hearing 16 bands 48000", "hearing dearest tick 16 bands 48000", 48000, 16, 1, 0},
    {"hearing without tempo", "hearing dearest tick without tempo", 16000, 16, 0, 0},
    {"hearing with pitch", "hearing dearest tick with pitch", 16000, 16, 1, 1},
};

/* A tone that swells, and a click each half second. */
static void make(int16_t *samples, uint32_t from, uint32_t count, uint32_t rate) {
    for (uint32_t i = 0; i < count; i++) {
        uint32_t at = from + i;
        uint32_t since = at % (rate / 2u);
        int32_t tone = glanz_sine((uint16_t)(at * (440u * 65536u / rate))) / 16;
        int32_t click = since < rate / 50u ? (int32_t)(glanz_hash(at) >> 17) - 16384 : 0;
        samples[i] = (int16_t)(tone + click / (int32_t)(1u + since * 1000u / rate));
    }
}

static void run(uint32_t index) {
    struct glanz_sound_setup setup = {cases[index].tempo ? &glanz_sound_tempo : NULL,
                                      cases[index].pitch ? &glanz_sound_pitch : NULL, NULL, cases[index].bands};
    struct glanz_hearing hearing = {.rate_hz = cases[index].rate, .bands = cases[index].bands};
    struct glanz_sound *sound;
    int16_t samples[256];
    uint32_t all = 0;
    uint32_t total = 0;
    uint32_t worst = 0;
    uint32_t tick = cases[index].rate / 200u;
    if (glanz_sound_start(&sound, &memory, sizeof memory, &setup) != GLANZ_OK ||
        glanz_sound_listen(sound, &hearing) != GLANZ_OK) {
        return;
    }
    for (uint32_t i = 0; i < 3400; i++) {
        make(samples, i * tick, tick, cases[index].rate);
        uint32_t before = bench_count();
        (void)glanz_sound_push(sound, samples, tick, 1, i * 5000u);
        uint32_t spent = bench_count() - before;
        if (i >= 3200) { /* what it does in its first quarter of a minute is done */
            all += spent;
            total += tick;
            worst = spent > worst ? spent : worst;
        }
    }
    bench_worst(cases[index].name, all / total);
    bench_worst(cases[index].worst, worst / tick);
}

void bench_run(void) {
    for (uint32_t i = 0; i < sizeof cases / sizeof *cases; i++) {
        run(i);
    }
    struct glanz_sound_setup setup = {NULL, NULL, NULL, 16};
    bench_bytes("hearing memory 16 bands", (uint32_t)glanz_sound_size(&setup));
    setup.tempo = &glanz_sound_tempo;
    bench_bytes("hearing memory 16 bands, tempo", (uint32_t)glanz_sound_size(&setup));
    setup.pitch = &glanz_sound_pitch;
    bench_bytes("hearing memory 16 bands, tempo, pitch", (uint32_t)glanz_sound_size(&setup));
}
