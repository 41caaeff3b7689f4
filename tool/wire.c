/* SPDX-License-Identifier: MIT */
/* wire: run a show and write what goes down the wire: bytes, the colours that the chips latched, and the waveform. */
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include <zlib.h>

#include "commands.h"

struct dump {
    struct session session;
    FILE *bytes, *colors, *light, *supplies;
    uint32_t newest; /* frames that were shaded so far */
    uint32_t repeated;
    uint32_t hash; /* CRC-32 of all bytes in order */
    uint32_t frames;
    uint64_t from_us;
};

static void sent(void *user, const struct glanz_sending *list, uint8_t count) {
    struct dump *dump = (struct dump *)user;
    uint32_t shaded = dump->session.device == NULL ? 0 : glanz_device_counts(dump->session.device).shaded;
    int again = shaded == dump->newest;
    dump->newest = shaded;
    dump->repeated += again ? 1u : 0u;
    for (uint8_t i = 0; i < count; i++) {
        dump->hash = (uint32_t)crc32(dump->hash, list[i].bytes, (uInt)list[i].count);
        if (dump->bytes != NULL && dump->session.now_us >= dump->from_us) {
            fprintf(dump->bytes, "%.6f %s%s", (double)dump->session.now_us / 1e6, list[i].output->name,
                    again ? ": repeats the last frame" : "");
            for (size_t b = 0; b < list[i].count && !again; b++) {
                fprintf(dump->bytes, "%s%02x", b == 0 ? ": " : "", list[i].bytes[b]);
            }
            fputc('\n', dump->bytes);
        }
    }
    dump->frames++;
}

static void latched(void *user, uint8_t output, uint64_t time_us) {
    struct dump *dump = (struct dump *)user;
    if (dump->colors == NULL || dump->session.board == NULL || time_us < dump->from_us) {
        return;
    }
    GLANZ_CONST struct glanz_output *is = &dump->session.setup.hardware->outputs[output];
    fprintf(dump->colors, "%.6f %s:", (double)time_us / 1e6, is->name);
    for (uint16_t i = 0; i < glanz_output_leds(is); i++) {
        struct glanz_lit lit = glanz_board_lit(dump->session.board, output, i);
        fprintf(dump->colors, " %02x%02x%02x", lit.red, lit.green, lit.blue);
        if (is->stretches[0].chip->channels == 4) {
            fprintf(dump->colors, "%02x", lit.white);
        }
        if (is->stretches[0].chip->protocol == GLANZ_CLOCKED) {
            fprintf(dump->colors, "/%u", lit.field);
        }
    }
    fputc('\n', dump->colors);
}

/* Of the newest frame: the light that was wanted of every LED, and what each supply was asked for, may give and gives. */
static void write_frame(struct dump *dump) {
    const struct session *session = &dump->session;
    struct glanz_engine *engine = glanz_device_engine(session->device);
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    double at = (double)session->now_us / 1e6;
    if (session->off_until_us != 0 || session->now_us < dump->from_us) {
        return;
    }
    for (uint8_t o = 0; dump->light != NULL && o < rig->output_count; o++) {
        fprintf(dump->light, "%.6f %s:", at, rig->outputs[o].name);
        uint32_t gain = glanz_engine_gain(engine);
        for (uint16_t led = 0; led < glanz_output_leds(&rig->outputs[o]); led++) {
            struct glanz_light light;
            if (glanz_engine_light(engine, o, led, &light, 1) == GLANZ_OK) {
                light = glanz_light_scale(light, gain);
                fprintf(dump->light, " %.4f,%.4f,%.4f", light.red / 655.35, light.green / 655.35, light.blue / 655.35);
            }
        }
        fputc('\n', dump->light);
    }
    for (uint8_t s = 0; dump->supplies != NULL && s < rig->supply_count; s++) {
        double demanded = 0;
        for (uint8_t o = 0; o < rig->output_count; o++) {
            demanded += rig->outputs[o].supply == s ? glanz_engine_demand_ua(engine, o) / 1000.0 : 0;
        }
        fprintf(dump->supplies, "%.6f %s: demanded %.1f mA, allowed ", at, rig->supplies[s].name, demanded);
        if (rig->supplies[s].limit_ma == 0) {
            fputs("any", dump->supplies);
        } else {
            fprintf(dump->supplies, "%u mA", (unsigned)rig->supplies[s].limit_ma);
        }
        fprintf(dump->supplies, ", drawn %.1f mA\n", glanz_engine_supply_ua(engine, s) / 1000.0);
    }
}

static int form_of(enum glanz_form *form, const char *name) {
    static const char *const names[] = {"raw", "spi3", "spi4", "uart3", "uart4"};
    for (int i = 0; i < 5; i++) {
        if (name == NULL || strcmp(name, names[i]) == 0) {
            *form = (enum glanz_form)i;
            return 1;
        }
    }
    complain_plain("--form: no such form: %s; expected one of: raw, spi3, spi4, uart3, uart4", name);
    return 0;
}

#define OUTPUTS 6
#define NOT_SAID (-1)

static int run(int argc, const char **argv) {
    static struct dump dump;
    struct arguments arguments;
    struct glanz_board_setup setup;
    char *bytes = NULL;
    char *colors = NULL;
    char *light = NULL;
    char *supplies = NULL;
    char *vcd = NULL;
    char *inputs = NULL;
    char *sound = NULL;
    char *form = NULL;
    char *store = NULL;
    char *record = NULL;
    char *time_text = NULL;
    char *from_text = NULL;
    int rate = NOT_SAID;
    int code;
    uint64_t for_us = 1000000;
    const struct poptOption options[] = {
        {"for", 't', POPT_ARG_STRING, &time_text, 0, "how long the show runs (default 1 s)", "TIME"},
        {"from", 'f', POPT_ARG_STRING, &from_text, 0, "write bytes, colours and waveform from this time on (default 0 s)",
         "TIME"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "input log to play", "FILE"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file, - or alsa:NAME that the first input for sound hears", "FILE"},
        {"bytes", 'b', POPT_ARG_STRING, &bytes, 0, "the bytes of each frame, as hex text", "FILE"},
        {"colors", 'c', POPT_ARG_STRING, &colors, 0, "what the simulated LEDs latched, as hex text", "FILE"},
        {"light", 'l', POPT_ARG_STRING, &light, 0,
         "the light that was wanted in each frame: red, green, blue in percent of full, before trim, limit and dither", "FILE"},
        {"supplies", 0, POPT_ARG_STRING, &supplies, 0, "what each supply was asked for, may give, and gives in each frame",
         "FILE"},
        {"vcd", 'v', POPT_ARG_STRING, &vcd, 0, "the waveform, as value changes (IEEE 1364)", "FILE"},
        {"form", 0, POPT_ARG_STRING, &form, 0, "peripheral: raw, spi3, spi4, uart3 or uart4 (default raw)", "FORM"},
        {"store", 's', POPT_ARG_STRING, &store, 0, "image of a NOR flash in which presets are saved; made if needed", "FILE"},
        {"record", 0, POPT_ARG_STRING, &record, 0, "write all that comes in, edges and values raw, as an input log", "FILE"},
        {"rate", 'r', POPT_ARG_INT, &rate, 0, "frames a second (default: the rig's)", "COUNT"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_wire, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    memset(&dump, 0, sizeof dump);
    memset(&setup, 0, sizeof setup);
    code = (time_text != NULL && !time_of(&for_us, time_text, "--for")) ||
                   (from_text != NULL && !time_of(&dump.from_us, from_text, "--from")) ||
                   (form != NULL && !form_of(&setup.form, form))
               ? EXIT_USAGE
               : EXIT_GOOD;
    if (code == EXIT_GOOD && rate != NOT_SAID && (rate < 1 || rate > 1000)) {
        complain_plain("--rate: expected 1 to 1000 frames a second");
        code = EXIT_USAGE;
    }
    const char *const paths[OUTPUTS] = {bytes, colors, light, supplies, vcd, record};
    struct output outputs[OUTPUTS];
    memset(outputs, 0, sizeof outputs);
    for (int i = 0; i < OUTPUTS && code == EXIT_GOOD; i++) {
        code = output_open(&outputs[i], paths[i]) ? EXIT_GOOD : EXIT_FILE;
    }
    dump.bytes = outputs[0].file;
    dump.colors = outputs[1].file;
    dump.light = outputs[2].file;
    dump.supplies = outputs[3].file;
    setup.store = store;
    setup.vcd = outputs[4].file;
    setup.vcd_from_us = dump.from_us;
    setup.sent = sent;
    setup.latched = latched;
    setup.user = &dump;
    if (code == EXIT_GOOD) {
        setup.sound = sound;
        code = session_open(&dump.session, arguments.path[0], arguments.path[1], inputs, &setup,
                            rate == NOT_SAID ? 0 : (uint32_t)rate);
    }
    int ran = code == EXIT_GOOD;
    if (ran) {
        uint64_t frames = for_us * dump.session.frame_rate / 1000000u;
        dump.session.record = outputs[5].file;
        for (uint64_t i = 0; i < frames; i++) {
            (void)session_step(&dump.session);
            write_frame(&dump);
            progress("running", i + 1, frames);
        }
        glanz_board_finish(dump.session.board);
        if (dump.bytes != stdout && dump.colors != stdout && dump.light != stdout && dump.supplies != stdout) {
            printf("%llu frames made, %u sent", (unsigned long long)frames, dump.frames);
            if (dump.repeated != 0) {
                printf(", %u of them repeat the last", dump.repeated);
            }
            printf(", CRC-32 of the bytes %08x\n", dump.hash);
        }
        code = report_misreads(&dump.session) != 0 ? EXIT_FOUND : dump.session.complaints != 0 ? EXIT_REFUSED : EXIT_GOOD;
        session_close(&dump.session);
    }
    for (int i = 0; i < OUTPUTS; i++) { /* nothing is left of a run that was refused */
        code = output_close(&outputs[i], ran) ? code : EXIT_FILE;
    }
    free(bytes);
    free(colors);
    free(light);
    free(supplies);
    free(vcd);
    free(inputs);
    free(sound);
    free(form);
    free(store);
    free(record);
    free(time_text);
    free(from_text);
    arguments_free(&arguments);
    return code;
}

const struct command command_wire = {"wire", "write what goes down the wire: bytes, colours, waveform", "RIG SHOW",
                                     "  glanz wire demo/rig.json demo/show.json --for 50ms --bytes - --vcd out/rail.vcd\n", run, 0};
