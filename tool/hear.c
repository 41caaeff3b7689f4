/* SPDX-License-Identifier: MIT */
/* hear: what is heard in a sound: a table, JSON lines, a picture; and a meter for setting up a microphone. */
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"
#include "hearing.h"

#define TICKS_PER_S 200
#define PI 3.14159265358979323846

static const char *const ranges[] = {"whole", "low", "middle", "high"};

struct wish {
    const char *sound, *rig, *input, *picture;
    uint64_t every_us;
    int rate, bands, hum, json, meter;
};

/* ---- listening ---- */

/* Mains hum: how much of the sound turns with 50 Hz, or 60, and twice and three times as fast. */
static void measure_hum(struct hearing *hearing, const int16_t *samples, size_t count) {
    for (size_t i = 0; i < count; i++) {
        double time = (double)(hearing->samples + i) / hearing->how.rate_hz;
        for (int mains = 0; mains < 2; mains++) {
            for (int times = 0; times < 3; times++) {
                double angle = 2 * PI * (mains ? 60 : 50) * (times + 1) * time;
                hearing->mains[mains][times][0] += samples[i] * cos(angle);
                hearing->mains[mains][times][1] += samples[i] * sin(angle);
            }
        }
    }
    hearing->samples += count;
    for (int mains = 0; mains < 2; mains++) {
        double power = 1e-12;
        for (int times = 0; times < 3; times++) {
            double size =
                hypot(hearing->mains[mains][times][0], hearing->mains[mains][times][1]) * 2 / (double)hearing->samples;
            power += size * size / 32767 / 32767;
        }
        hearing->hum[mains] = 10 * log10(power);
    }
}

/* Seconds of a time that was told before the newest tick ended; the times of sound wrap. */
static double unwrapped(const struct hearing *hearing, const struct glanz_heard *heard, uint32_t at_us) {
    return ((double)hearing->time_us - (double)(uint32_t)(heard->time_us - at_us)) / 1e6;
}

/* Room for one more tick; those that are told are forgotten, but for the last. */
static int make_room(struct hearing *hearing) {
    if (!hearing->keeps_all && hearing->told > 1) {
        size_t gone = hearing->told - 1;
        memmove(hearing->ticks, hearing->ticks + gone, (hearing->count - gone) * sizeof *hearing->ticks);
        hearing->count -= gone;
        hearing->told = 1;
    }
    if (hearing->count == hearing->capacity) {
        size_t capacity = hearing->capacity * 2 + 1024;
        struct heard_tick *ticks = (struct heard_tick *)realloc(hearing->ticks, capacity * sizeof *ticks);
        if (ticks == NULL) {
            complain_plain("out of memory after %zu ticks", hearing->count);
            return 0;
        }
        hearing->ticks = ticks;
        hearing->capacity = capacity;
    }
    return 1;
}

static void sum_up(struct hearing *hearing, const struct glanz_heard *heard) {
    hearing->all++;
    hearing->silent += heard->silent;
    hearing->power += pow(10, heard->level_cdb / 1000.0);
    hearing->peak_cdb = heard->peak_cdb > hearing->peak_cdb ? heard->peak_cdb : hearing->peak_cdb;
    if (hearing->all > TICKS_PER_S / 5 && heard->level_cdb < hearing->quiet_cdb) {
        hearing->quiet_cdb = heard->level_cdb;
    }
}

static int note_tick(struct hearing *hearing, const struct glanz_heard *heard) {
    if (!make_room(hearing)) {
        return 0;
    }
    struct heard_tick *tick = &hearing->ticks[hearing->count++];
    const struct glanz_heard *before = hearing->count == 1 ? NULL : &tick[-1].heard;
    memset(tick, 0, sizeof *tick);
    tick->heard = *heard;
    memcpy(tick->band, heard->band, sizeof *tick->band * heard->bands);
    hearing->time_us += before == NULL ? heard->time_us : (uint32_t)(heard->time_us - before->time_us);
    tick->end = (double)hearing->time_us / 1e6;
    tick->last_beat = unwrapped(hearing, heard, heard->beat_us);
    for (int i = 0; i < GLANZ_RANGES; i++) {
        tick->begun |= (uint8_t)((before != NULL && before->onset[i].count != heard->onset[i].count) << i);
        tick->onset[i] = unwrapped(hearing, heard, heard->onset[i].at_us);
    }
    tick->beat = before != NULL && before->beats != heard->beats;
    sum_up(hearing, heard);
    return 1;
}

/* ---- telling ---- */

static double tempo_of(const struct glanz_heard *heard) {
    return heard->period_us == 0 ? 0 : 60e6 / heard->period_us;
}

static void tell_json(const struct hearing *hearing, uint64_t every) {
    const struct heard_tick *tick = &hearing->ticks[hearing->count - 1];
    const struct glanz_heard *heard = &tick->heard;
    for (int i = 0; i < GLANZ_RANGES; i++) {
        if (tick->begun >> i & 1) {
            printf("{\"at\": %.3f, \"onset\": \"%s\", \"strength\": %.3f}\n", tick->onset[i], ranges[i],
                   heard->onset[i].strength / 65535.0);
        }
    }
    if (tick->beat) {
        printf("{\"at\": %.3f, \"beat\": %u, \"tempo\": %.2f, \"trust\": %.3f}\n", tick->last_beat, heard->beats,
               tempo_of(heard), heard->trust / 65535.0);
    }
    if ((hearing->all - 1) % every != 0) {
        return;
    }
    printf("{\"at\": %.3f, \"level dB\": %.2f, \"peak dB\": %.2f, \"gate dB\": %.2f, \"silent\": %s, \"level\": %.3f, "
           "\"bands\": [",
           tick->end, heard->level_cdb / 100.0, heard->peak_cdb / 100.0, heard->gate_cdb / 100.0,
           heard->silent ? "true" : "false", heard->level[0] / 65535.0);
    for (int i = 0; i < heard->bands; i++) {
        printf("%s%.3f", i == 0 ? "" : ", ", tick->band[i] / 65535.0);
    }
    printf("]");
    if (heard->pitch_trust != 0) {
        printf(", \"pitch Hz\": %.2f, \"pitch trust\": %.3f", 16.3516 * pow(2, heard->pitch / 65536.0 / 12),
               heard->pitch_trust / 65535.0);
    }
    puts("}");
}

static void put_bar(uint16_t level) {
    static const char *const eighths[] = {" ", "▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"};
    fputs(eighths[(level * 8 + 32767) / 65535], stdout);
}

/* A line of the table: all that began in it, and the levels at its end. */
static void tell_row(const struct hearing *hearing, size_t from, size_t to) {
    const struct heard_tick *tick = &hearing->ticks[to];
    const struct glanz_heard *heard = &tick->heard;
    unsigned begun[GLANZ_RANGES] = {0, 0, 0, 0};
    unsigned beats = 0;
    for (size_t i = from; i <= to; i++) {
        for (int range = 0; range < GLANZ_RANGES; range++) {
            begun[range] += hearing->ticks[i].begun >> range & 1u;
        }
        beats += hearing->ticks[i].beat;
    }
    printf("%8.2f s  %6.1f dB  ", tick->end, heard->level_cdb / 100.0);
    for (int i = 0; i < heard->bands; i++) {
        put_bar(tick->band[i]);
    }
    printf("  %6u %4u %6u %4u  %5u", begun[0], begun[1], begun[2], begun[3], beats);
    if (heard->period_us != 0 && heard->trust > 6553) {
        printf("  %6.1f /min %3.0f %%", tempo_of(heard), heard->trust / 655.35);
    } else {
        printf("  %15s", "-");
    }
    if (heard->pitch_trust > 52000 && !heard->silent) {
        printf("  %7.1f Hz", 16.3516 * pow(2, heard->pitch / 65536.0 / 12));
    } else {
        printf("  %10s", "-");
    }
    puts(heard->silent ? "  silent" : "");
}

static void tell_head(const struct hearing *hearing) {
    struct glanz_hearing how = hearing->how;
    printf("%s: %u Hz, %u bands from %u to %u Hz; 100 %% %s, %u dB from 0 %%\n", hearing->name, how.rate_hz, how.bands,
           how.low_hz, how.high_hz, how.loudest_db == 0 ? "adapts" : "is fixed", how.span_db);
    printf("\n%10s  %9s  %-*s  %-24s %5s  %15s  %10s\n", "time", "level", how.bands, "bands", " onsets low middle high",
           "beats", "tempo, trust", "pitch");
}

static void tell_end(const struct hearing *hearing) {
    const struct glanz_heard *last = &hearing->ticks[hearing->count - 1].heard;
    double power = 1e-12 + hearing->power / (double)hearing->all;
    printf("\n%.2f s heard; peak %.1f dB, %u samples clipped%s\n", (double)hearing->samples / hearing->how.rate_hz,
           hearing->peak_cdb / 100.0, last->clipped,
           last->clipped > 10          ? ": turn the gain down"
           : hearing->peak_cdb < -4000 ? ": turn the gain up"
                                       : "");
    if (hearing->quiet_cdb != 0) {
        printf("quietest %.1f dB, ", hearing->quiet_cdb / 100.0);
    }
    printf("gate %.1f dB%s; silent for %.2f s\n", last->gate_cdb / 100.0, hearing->how.gate_db == 0 ? ", learnt" : ", as said",
           (double)hearing->silent / TICKS_PER_S);
    int mains = hearing->hum[1] > hearing->hum[0];
    if (hearing->hum[mains] > 10 * log10(power) - 25 && hearing->hum[mains] > -70) {
        int hz = mains ? 60 : 50;
        printf("%.1f dB turn with %d Hz and its overtones: mains hum, or music there; ", hearing->hum[mains], hz);
        if (hearing->how.hum_hz == 0) {
            printf("\"hum\": \"%d Hz\" takes it out of the bands\n", hz);
        } else {
            printf("%d Hz is taken out of the bands\n", hearing->how.hum_hz);
        }
    }
    printf("onsets: %u, of them low %u, middle %u, high %u; beats: %u", last->onset[0].count, last->onset[1].count,
           last->onset[2].count, last->onset[3].count, last->beats);
    if (last->trust > 6553) {
        printf("; tempo %.2f a minute, trust %.0f %%", tempo_of(last), last->trust / 655.35);
    }
    putchar('\n');
}

/* The meter: one line that is written anew ten times a second. */
static void tell_meter(const struct hearing *hearing) {
    const struct heard_tick *tick = &hearing->ticks[hearing->count - 1];
    const struct glanz_heard *heard = &tick->heard;
    int cells = (heard->level_cdb + 7200) / 200;
    int gate = (heard->gate_cdb + 7200) / 200;
    int mains = hearing->hum[1] > hearing->hum[0];
    fputs("\r", stdout);
    for (int i = 0; i < 36; i++) {
        fputs(i == gate ? "|" : i < cells ? "=" : " ", stdout);
    }
    printf(" %6.1f dB  peak %6.1f  gate %6.1f  hum %6.1f  clipped %5u  ", heard->level_cdb / 100.0, heard->peak_cdb / 100.0,
           heard->gate_cdb / 100.0, hearing->hum[mains], heard->clipped);
    for (int i = 0; i < heard->bands; i++) {
        put_bar(tick->band[i]);
    }
    fputs(heard->silent ? " silent" : "       ", stdout);
    fflush(stdout);
}

/* ---- the command ---- */

/* How to listen: as an input of a rig, or by the options. */
static int find_hearing(struct glanz_hearing *how, const struct wish *wish) {
    struct document document;
    struct text text;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    memset(how, 0, sizeof *how);
    how->rate_hz = (uint16_t)wish->rate;
    how->bands = (uint8_t)wish->bands;
    how->hum_hz = (uint8_t)wish->hum;
    if (wish->rig == NULL) {
        GLANZ_CONST char *wrong =
            wish->rate < 0 || wish->rate > 65535 || wish->bands < 0 || wish->bands > 255 || wish->hum < 0 || wish->hum > 255
                ? "expected a rate in Hz, a number of bands, and the mains in Hz"
                : glanz_hearing_wrong(how);
        if (wrong != NULL) {
            complain_plain("hear: %s", wrong);
            return EXIT_USAGE;
        }
        return EXIT_GOOD;
    }
    if (!text_read(&text, wish->rig)) {
        return EXIT_FILE;
    }
    if (document_rig(&document, text, &fault) != GLANZ_OK) {
        complain(wish->rig, &fault);
        return EXIT_REFUSED;
    }
    int code = EXIT_REFUSED;
    for (uint8_t i = 0; i < document.rig->input_count && code != EXIT_GOOD; i++) {
        GLANZ_CONST struct glanz_input *input = &document.rig->inputs[i];
        if (input->kind == GLANZ_INPUT_SOUND && (wish->input == NULL || strcmp(input->name, wish->input) == 0)) {
            *how = input->hearing;
            code = EXIT_GOOD;
        }
    }
    if (code != EXIT_GOOD) {
        complain_plain("%s has no input for sound%s%s", wish->rig, wish->input == NULL ? "" : " of the name ",
                       wish->input == NULL ? "" : wish->input);
    }
    document_free(&document);
    return code;
}

static int listen(struct hearing *hearing, struct glanz_sound *sound, struct glanz_microphone *microphone,
                  const struct wish *wish) {
    int16_t samples[512];
    uint64_t every = wish->every_us * TICKS_PER_S / 1000000u;
    uint32_t seen = 0;
    size_t tick = hearing->how.rate_hz / TICKS_PER_S;
    for (size_t got = tick; got == tick;) {
        got = glanz_microphone_read(microphone, samples, tick);
        measure_hum(hearing, samples, got);
        (void)glanz_sound_push(sound, samples, got, 1, (uint32_t)(hearing->samples * 1000000u / hearing->how.rate_hz));
        const struct glanz_heard *heard = glanz_sound_heard(sound);
        if (heard->ticks == seen) {
            continue;
        }
        seen = heard->ticks;
        if (!note_tick(hearing, heard)) {
            return EXIT_FILE;
        }
        if (wish->json) {
            tell_json(hearing, every);
        } else if (wish->meter && hearing->all % (TICKS_PER_S / 10) == 0) {
            tell_meter(hearing);
        } else if (!wish->meter && hearing->count - hearing->told >= every) {
            tell_row(hearing, hearing->told, hearing->count - 1);
            hearing->told = hearing->count;
        }
        hearing->told = wish->json || wish->meter ? hearing->count : hearing->told;
    }
    return EXIT_GOOD;
}

static int hear(const struct wish *wish) {
    static GLANZ_SOUND_MEMORY(memory, GLANZ_BANDS_MOST, 1, 1, 1);
    static const struct glanz_sound_setup setup = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 0};
    struct hearing hearing;
    struct glanz_sound *sound;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    memset(&hearing, 0, sizeof hearing);
    hearing.name = wish->sound;
    hearing.keeps_all = wish->picture != NULL;
    hearing.peak_cdb = INT16_MIN;
    int code = find_hearing(&hearing.how, wish);
    if (code != EXIT_GOOD) {
        return code;
    }
    struct glanz_microphone *microphone = glanz_microphone_open(wish->sound, hearing.how.rate_hz, &fault);
    if (microphone == NULL) {
        complain_plain("%s %s", wish->sound, fault.text);
        return EXIT_FILE;
    }
    if (glanz_microphone_note(microphone) != NULL) {
        complain_plain("%s %s", wish->sound, glanz_microphone_note(microphone));
    }
    glanz_status status = glanz_sound_start(&sound, &memory, sizeof memory, &setup);
    status = status == GLANZ_OK ? glanz_sound_listen(sound, &hearing.how) : status;
    hearing.how = glanz_hearing_filled(&hearing.how);
    if (status == GLANZ_OK && !wish->json && !wish->meter) {
        tell_head(&hearing);
    }
    code = status == GLANZ_OK ? listen(&hearing, sound, microphone, wish) : EXIT_REFUSED;
    if (code == EXIT_GOOD && hearing.count == 0) {
        complain_plain("%s is shorter than a tick of 5 ms", wish->sound);
        code = EXIT_FILE;
    }
    if (code == EXIT_GOOD && !wish->json) {
        putchar('\n');
        tell_end(&hearing);
    }
    if (code == EXIT_GOOD && wish->picture != NULL) {
        code = hearing_picture(&hearing, wish->picture) ? EXIT_GOOD : EXIT_FILE;
    }
    glanz_microphone_close(microphone);
    free(hearing.ticks);
    return code;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    int code;
    char *rig = NULL;
    char *input = NULL;
    char *picture = NULL;
    char *every = NULL;
    struct wish wish = {.rate = 16000, .bands = 12, .every_us = 500000};
    const struct poptOption options[] = {
        {"rig", 'r', POPT_ARG_STRING, &rig, 0, "listen as the input for sound of this rig does", "RIG"},
        {"input", 0, POPT_ARG_STRING, &input, 0, "with --rig: which (default the first)", "NAME"},
        {"rate", 0, POPT_ARG_INT, &wish.rate, 0, "without it: samples a second (default 16000)", "HZ"},
        {"bands", 'b', POPT_ARG_INT, &wish.bands, 0, "without it: how many bands (default 12)", "NUMBER"},
        {"hum", '\0', POPT_ARG_INT, &wish.hum, 0, "without it: take the hum of a mains of 50 or 60 Hz out of the bands", "HZ"},
        {"every", 'e', POPT_ARG_STRING, &every, 0, "a line for so long a time (default 0.5 s)", "TIME"},
        {"json", 'j', POPT_ARG_NONE, &wish.json, 0, "JSON lines: levels, onsets and beats", NULL},
        {"meter", 'm', POPT_ARG_NONE, &wish.meter, 0, "one line that is written anew, to set a microphone up", NULL},
        {"plot", 'p', POPT_ARG_STRING, &picture, 0, "draw bands, onsets, beats and levels over time", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_hear, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    code = EXIT_USAGE;
    if (every != NULL && (!time_parse(&wish.every_us, every) || wish.every_us < 5000)) {
        complain_plain("--every: expected a time of at least 5 ms, such as \"100 ms\"");
    } else if (wish.json && wish.meter) {
        complain_plain("hear: expected either --json or --meter");
    } else if (input != NULL && rig == NULL) {
        complain_plain("hear: --input goes with --rig");
    } else {
        wish.sound = arguments.path[0];
        wish.rig = rig;
        wish.input = input;
        wish.picture = picture;
        code = hear(&wish);
    }
    free(rig);
    free(input);
    free(picture);
    free(every);
    arguments_free(&arguments);
    return code;
}

const struct command command_hear = {"hear",
                                     "what is heard in a sound: bands, onsets, beats, pitch, noise",
                                     "FILE, - (raw samples) or alsa:NAME",
                                     "  glanz hear out/bell.wav --rig demo/rig.json --plot out/hear.png\n",
                                     run,
                                     0};
