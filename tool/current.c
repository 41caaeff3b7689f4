/* SPDX-License-Identifier: MIT */
/* current: what a rig may draw at the worst, what a show really draws, the supply to buy, where to inject power. */
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#include "commands.h"
#include "facts.h"
#include "plot.h"

struct figures { /* of one output or supply, milliamps */
    double mean, peak, jump, last;
};

static void take(struct figures *figures, double ma, uint64_t frame) {
    double jump = frame == 0 ? 0 : fabs(ma - figures->last);
    figures->mean += ma;
    figures->peak = ma > figures->peak ? ma : figures->peak;
    figures->jump = jump > figures->jump ? jump : figures->jump;
    figures->last = ma;
}

/* The next usual size of a supply with a fifth to spare. */
static double supply_size(double ma) {
    static const double sizes[] = {0.5, 1, 2, 3, 4, 5, 6, 8, 10, 15, 20, 30, 40, 60, 80, 100};
    double amps = ma * 1.25 / 1000;
    for (size_t i = 0; i < sizeof sizes / sizeof sizes[0]; i++) {
        if (sizes[i] >= amps) {
            return sizes[i];
        }
    }
    return ceil(amps / 50) * 50;
}

/* How many LEDs one feed point can carry to one side before the far end is down by a tenth of the voltage. Along n LEDs that
 * are fully on, of current i and resistance r each (both rails), the drop is r i n^2 / 2. Where a limit I is less than n i, the
 * worst is that all of it flows in the last I / i of them: the drop is r I (n - I / i / 2). */
static unsigned reach(double ma_each, double limit_ma, double volts, double ohms) {
    double drop = volts * 0.1;
    double n = sqrt(2 * drop / (ohms * ma_each / 1000));
    if (limit_ma != 0 && n * ma_each > limit_ma) {
        n = drop / (ohms * limit_ma / 1000) + limit_ma / ma_each / 2;
    }
    return n < 1 ? 1 : (unsigned)n;
}

static void tell_worst(GLANZ_CONST struct glanz_rig *rig, double ohms) {
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        double worst = 0;
        double idle = 0;
        for (uint8_t o = 0; o < rig->output_count; o++) {
            worst += rig->outputs[o].supply == s ? (double)glanz_output_ua(&rig->outputs[o], 15) / 1000 : 0;
            idle += rig->outputs[o].supply == s ? (double)glanz_output_ua(&rig->outputs[o], 0) / 1000 : 0;
        }
        printf("supply \"%s\", %.1f V: dark %.0f mA; everything fully on %.0f mA", rig->supplies[s].name,
               rig->supplies[s].millivolts / 1000.0, idle, worst);
        if (rig->supplies[s].limit_ma != 0) {
            printf("; limited to %u mA: buy %.1f A or more", rig->supplies[s].limit_ma, supply_size(rig->supplies[s].limit_ma));
        } else {
            printf("; no limit: buy %.1f A or more", supply_size(worst));
        }
        putchar('\n');
        for (uint8_t o = 0; o < rig->output_count; o++) {
            GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
            uint16_t leds = glanz_output_leds(output);
            if (output->supply != s) {
                continue;
            }
            double full = (double)glanz_output_ua(output, 15) / 1000;
            unsigned far = reach(full / leds, rig->supplies[s].limit_ma, rig->supplies[s].millivolts / 1000.0, ohms);
            printf("  output \"%s\": %u LEDs, fully on %.0f mA (%.1f mA each)\n", output->name, leds, full, full / leds);
            printf("    inject power at LED 0");
            for (unsigned at = 2 * far; at < leds; at += 2 * far) {
                printf(", %u", at);
            }
            if (leds > far) {
                printf(" and at the end");
            }
            printf(" (at the worst a tenth of the voltage is lost after %u LEDs of %.0f milliohms each)\n", far, ohms * 1000);
        }
    }
}

struct measured { /* of all frames */
    struct figures outputs[GLANZ_OUTPUTS_MOST];
    struct figures supplies[GLANZ_SUPPLIES_MOST];
    uint32_t limited;
};

static void worst_facts(struct facts *facts, GLANZ_CONST struct glanz_rig *rig, const struct measured *measured,
                        uint64_t frames) {
    facts_list(facts, "supplies");
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        double idle = 0;
        double full = 0;
        for (uint8_t o = 0; o < rig->output_count; o++) {
            idle += rig->outputs[o].supply == s ? glanz_output_ua(&rig->outputs[o], 0) / 1000.0 : 0;
            full += rig->outputs[o].supply == s ? glanz_output_ua(&rig->outputs[o], 15) / 1000.0 : 0;
        }
        facts_object(facts, NULL);
        facts_text(facts, "name", rig->supplies[s].name);
        facts_number(facts, "volts", rig->supplies[s].millivolts / 1000.0, 1);
        facts_number(facts, "dark_ma", idle, 1);
        facts_number(facts, "full_ma", full, 1);
        facts_number(facts, "limit_ma", rig->supplies[s].limit_ma, 0);
        facts_number(facts, "buy_a", supply_size(rig->supplies[s].limit_ma != 0 ? rig->supplies[s].limit_ma : full), 1);
        if (measured != NULL) {
            facts_number(facts, "mean_ma", measured->supplies[s].mean / (double)frames, 1);
            facts_number(facts, "peak_ma", measured->supplies[s].peak, 1);
            facts_number(facts, "jump_ma", measured->supplies[s].jump, 1);
        }
        facts_end(facts);
    }
    facts_end(facts);
}

static int draw_plot(const char *data, GLANZ_CONST struct glanz_rig *rig, const char *picture) {
    struct plot plot;
    if (!plot_begin(&plot, picture, "current (mA)")) {
        return EXIT_FILE;
    }
    fputs("set yrange [0:*]\nset offsets 0, 0, graph 0.08, 0\nplot ", plot.gnuplot);
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        fprintf(plot.gnuplot, "%s'%s' using 1:%d with lines lw 1.5 lc rgb '%s'", s == 0 ? "" : ", ", data, s + 2,
                plot_shade(s));
        plot_title(&plot, rig->supplies[s].name, NULL, NULL);
        if (rig->supplies[s].limit_ma != 0) {
            fprintf(plot.gnuplot, ", %u with lines lw 1 dt 2 lc rgb '%s'", rig->supplies[s].limit_ma, plot_shade(s));
            plot_title(&plot, "limit of ", rig->supplies[s].name, NULL);
        }
    }
    return plot_end(&plot);
}

/* The newest frame; a line of `data`, which may be NULL. @return 0 when a supply passed its limit. */
static int measure_frame(const struct session *session, struct measured *measured, uint64_t frame, FILE *data) {
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    struct glanz_engine *engine = glanz_device_engine(session->device);
    int kept = 1;
    if (data != NULL) {
        fprintf(data, "%.4f", (double)session->now_us / 1e6);
    }
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        double ma = (double)glanz_engine_supply_ua(engine, s) / 1000;
        take(&measured->supplies[s], ma, frame);
        if (rig->supplies[s].limit_ma != 0 && ma > rig->supplies[s].limit_ma) {
            complain_plain("supply \"%s\" passed its limit at %.3f s: %.1f mA", rig->supplies[s].name,
                           (double)session->now_us / 1e6, ma);
            kept = 0;
        }
        measured->limited += glanz_engine_limit_scale(engine, s) < 65536u;
        if (data != NULL) {
            fprintf(data, " %.2f", ma);
        }
    }
    for (uint8_t o = 0; o < rig->output_count; o++) {
        double ma = (double)glanz_engine_output_ua(engine, o) / 1000;
        take(&measured->outputs[o], ma, frame);
        if (data != NULL) {
            fprintf(data, " %.2f", ma);
        }
    }
    if (data != NULL) {
        fputc('\n', data);
    }
    return kept;
}

static void tell(const struct session *session, const struct measured *measured, uint64_t for_us, uint64_t frames) {
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    printf("this show over %.1f s, %llu frames:\n", (double)for_us / 1e6, (unsigned long long)frames);
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        const struct figures *supply = &measured->supplies[s];
        printf("  supply \"%s\": mean %.0f mA, peak %.0f mA, largest jump between two frames %.0f mA; this show alone: buy "
               "%.1f A\n",
               rig->supplies[s].name, supply->mean / (double)frames, supply->peak, supply->jump, supply_size(supply->peak));
    }
    for (uint8_t o = 0; o < rig->output_count; o++) {
        const struct figures *output = &measured->outputs[o];
        printf("  output \"%s\": mean %.0f mA, peak %.0f mA, largest jump %.0f mA\n", rig->outputs[o].name,
               output->mean / (double)frames, output->peak, output->jump);
    }
    printf("  a limit held the light back in %u of %llu frames; %u frames were shaded again for it\n", measured->limited,
           (unsigned long long)frames, glanz_engine_extra_passes(glanz_device_engine(session->device)));
}

static int measure(struct session *session, uint64_t for_us, const char *picture, const char *data_path, int json) {
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    struct measured measured;
    uint64_t frames = for_us * session->frame_rate / 1000000u;
    char scratch[] = "/tmp/glanz-current-XXXXXX";
    struct output out;
    FILE *data = NULL;
    int code = EXIT_GOOD;
    memset(&measured, 0, sizeof measured);
    if (!output_open(&out, data_path)) {
        return EXIT_FILE;
    }
    if (data_path != NULL) {
        data = out.file;
    } else if (picture != NULL) {
        int descriptor = mkstemp(scratch);
        data = descriptor < 0 ? NULL : fdopen(descriptor, "w");
        data_path = scratch;
    }
    if (data == NULL && data_path != NULL) {
        complain_plain("cannot write %s: %s", data_path, strerror(errno));
        return EXIT_FILE;
    }
    for (uint64_t i = 0; i < frames; i++) {
        (void)session_step(session);
        code = measure_frame(session, &measured, i, data) ? code : EXIT_FOUND;
        progress("running", i + 1, frames);
    }
    if (json) {
        struct facts facts;
        facts_open(&facts, stdout);
        worst_facts(&facts, rig, &measured, frames);
        facts_number(&facts, "frames", (double)frames, 0);
        facts_number(&facts, "frames_limited", measured.limited, 0);
        facts_end(&facts);
    } else {
        tell(session, &measured, for_us, frames);
    }
    int good = data_path != scratch ? output_close(&out, 1) : data == NULL || fclose(data) == 0;
    if (!good) {
        code = EXIT_FILE;
        if (data_path == scratch) {
            complain_plain("cannot write %s; the plot needs room there", scratch);
        }
    } else if (picture != NULL) {
        int drawn = draw_plot(data_path, rig, picture);
        code = drawn == EXIT_GOOD ? code : drawn;
    }
    if (data_path == scratch) {
        unlink(scratch);
    }
    return code;
}

static int run(int argc, const char **argv) {
    static struct session session;
    struct arguments arguments;
    struct glanz_board_setup setup;
    struct document rig;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    uint64_t for_us = 20000000;
    int code = EXIT_GOOD;
    double ohms = 0.005;
    int json = 0;
    char *time_text = NULL;
    char *inputs = NULL;
    char *sound = NULL;
    char *picture = NULL;
    char *data = NULL;
    const struct poptOption options[] = {
        {"for", 't', POPT_ARG_STRING, &time_text, 0, "how long the show runs (default 20 s)", "TIME"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "input log to play", "FILE"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file, - or alsa:NAME that the first input for sound hears", "FILE"},
        {"plot", 'p', POPT_ARG_STRING, &picture, 0, "draw the current over time as a PNG, with gnuplot", "FILE"},
        {"data", 'd', POPT_ARG_STRING, &data, 0, "write time, supplies and outputs in mA, a line a frame", "FILE"},
        {"json", 'j', POPT_ARG_NONE, &json, 0, "as JSON, for scripts", NULL},
        {"ohms", 0, POPT_ARG_DOUBLE, &ohms, 0, "resistance of the strip's two rails for each LED (default 0.005)", "OHMS"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_current, argc, argv, options, 1, 2, &code)) {
        return code;
    }
    memset(&rig, 0, sizeof rig);
    memset(&setup, 0, sizeof setup);
    code = EXIT_GOOD;
    if (time_text != NULL && !time_of(&for_us, time_text, "--for")) {
        code = EXIT_USAGE;
    } else if (!(ohms > 0 && ohms < 100) || for_us < 100000) {
        complain_plain(for_us < 100000 ? "--for: expected at least 100 ms"
                                       : "--ohms: expected a resistance above 0 and below 100 ohms");
        code = EXIT_USAGE;
    } else if (arguments.count == 1 && (picture != NULL || data != NULL)) {
        complain_plain("current: --plot and --data need a show");
        code = EXIT_USAGE;
    } else if (!text_read(&text, arguments.path[0])) {
        code = EXIT_FILE;
    } else if (document_rig(&rig, text, &fault) != GLANZ_OK) {
        complain(arguments.path[0], &fault);
        code = EXIT_REFUSED;
    }
    if (code == EXIT_GOOD && !json) {
        tell_worst(rig.rig, ohms);
    } else if (code == EXIT_GOOD && arguments.count == 1) {
        struct facts facts;
        facts_open(&facts, stdout);
        worst_facts(&facts, rig.rig, NULL, 1);
        facts_end(&facts);
    }
    if (code == EXIT_GOOD && arguments.count == 2) {
        setup.sound = sound;
        code = session_open(&session, arguments.path[0], arguments.path[1], inputs, &setup, 0);
        if (code == EXIT_GOOD) {
            code = measure(&session, for_us, picture, data, json);
            session_close(&session);
        }
    }
    free(time_text);
    free(inputs);
    free(sound);
    free(picture);
    free(data);
    document_free(&rig);
    arguments_free(&arguments);
    return code;
}

const struct command command_current = {"current", "worst case, what a show draws, the supply to buy, where to inject power",
                                        "RIG [SHOW]",
                                        "  glanz current demo/rig.json demo/show.json --for 20s --plot out/current.png\n", run, SEES_STORE};
