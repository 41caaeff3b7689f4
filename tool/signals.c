/* SPDX-License-Identifier: MIT */
/* signals: what signals there are, what follows them, and how both go over time: a table, JSON, and a plot. */
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"
#include "drive_words.h"
#include "facts.h"
#include "json.h"
#include "plot.h"
#include "rows.h"

#define WATCHED_MOST 32

struct watched {                         /* a drive of a look */
    GLANZ_CONST struct glanz_look *look; /* NULL: the show that runs now has it not */
    GLANZ_CONST struct glanz_drive *drive;
    char name[64]; /* of the look, and the number: by them it is found in another show */
    char number[64];
};

struct watch {
    struct session *session;
    GLANZ_CONST struct glanz_show *show; /* of which the drives are */
    uint16_t signals;
    struct watched drives[WATCHED_MOST];
    int drive_count;
    struct facts *facts; /* NULL: as text */
};

/* ---- what there is ---- */

static const char *number_name(const struct watched *watched) {
    return drive_name(watched->look, watched->drive);
}

static const char *const input_words[] = {"button", "value", "sensor", "dial", "knob", "sound"};

/* What a signal is made of, in words. */
static void signal_text(char *out, size_t capacity, const struct watch *watch, uint8_t signal) {
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(watch->session->device);
    GLANZ_CONST struct glanz_show *show = glanz_device_show(watch->session->device);
    if (signal < rig->input_count) {
        snprintf(out, capacity, "%s on pin %u", input_words[rig->inputs[signal].kind], rig->inputs[signal].pin);
        return;
    }
    GLANZ_CONST struct glanz_signal *is = &show->signals[signal - rig->input_count];
    if (is->kind == GLANZ_SIGNAL_WAVE) {
        static const char *const waves[] = {"sine", "triangle", "saw", "square", "wander"};
        char period[40];
        glanz_quantity_text(period, QUANTITY_TIME, is->period_ms, 0);
        snprintf(out, capacity, "wave, %s, period %s", waves[is->form], period);
    } else if (is->kind == GLANZ_SIGNAL_CLOCK) {
        static const char *const spans[] = {"minute", "hour", "day", "year"};
        snprintf(out, capacity, "how much of the %s has passed", spans[is->form]);
    } else if (is->kind == GLANZ_SIGNAL_STATE) {
        static const char *const states[] = {"current, of what the supply may give", "brightness of the whole", "asleep",
                                             "frozen", "a playlist plays"};
        snprintf(out, capacity, "state: %s", states[is->form]);
    } else if (is->kind == GLANZ_SIGNAL_SOUND) {
        int end = snprintf(out, capacity, "%s that \"%s\" hears", glanz_words_hears[is->form],
                           session_signal(watch->session, is->first));
        if (is->form == GLANZ_HEARS_BAND && end > 0 && (size_t)end < capacity) {
            snprintf(out + end, capacity - (size_t)end, " as its number %u", is->second + 1u);
        }
    } else {
        static const char *const forms[] = {"sum", "difference", "product", "ratio", "larger", "smaller"};
        snprintf(out, capacity, "%s of \"%s\" and \"%s\"", forms[is->form], session_signal(watch->session, is->first),
                 session_signal(watch->session, is->second));
    }
}

/* What a signal is, and what follows it. */
static void tell_signal(const struct watch *watch, uint8_t signal) {
    GLANZ_CONST struct glanz_show *show = glanz_device_show(watch->session->device);
    char is[200];
    signal_text(is, sizeof is, watch, signal);
    printf("signal \"%s\": %s\n", session_signal(watch->session, signal), is);
    for (int i = 0; i < watch->drive_count; i++) {
        const struct watched *watched = &watch->drives[i];
        char from[64];
        char to[64];
        if (watched->drive->signal == signal) {
            drive_number_text(from, watched->look, watched->drive, watched->drive->from);
            drive_number_text(to, watched->look, watched->drive, watched->drive->to);
            printf("  drives %s of look \"%s\" from %s to %s\n", number_name(watched), watched->look->name, from, to);
        }
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        for (uint8_t k = 0; k < show->segments[i].drive_count; k++) {
            if (show->segments[i].drives[k].signal == signal) {
                printf("  drives %s of segment \"%s\"\n", drive_name(NULL, &show->segments[i].drives[k]),
                       show->segments[i].name);
            }
        }
    }
    if (show->drive != NULL && show->drive->signal == signal) {
        puts("  drives brightness of the whole");
    }
    for (uint16_t i = 0; i < show->look_count; i++) {
        for (uint8_t k = 0; k < show->looks[i].setting_count; k++) {
            GLANZ_CONST struct glanz_setting *setting = &show->looks[i].settings[k];
            if (show->looks[i].effect->params[setting->param].kind == GLANZ_PARAM_SIGNAL && setting->number == signal + 1) {
                printf("  look \"%s\" reacts to it\n", show->looks[i].name);
            }
        }
    }
    for (uint8_t i = 0; i < show->trigger_count; i++) {
        if (show->triggers[i].input == signal) {
            printf("  trigger \"%s\" waits for it\n", show->triggers[i].name);
        }
    }
}

/* ---- over time ---- */

/* The session's show may be another one by now, after a patch: the same drives by their names. */
static void follow_show(struct watch *watch) {
    GLANZ_CONST struct glanz_show *show = glanz_device_show(watch->session->device);
    for (int d = 0; show != watch->show && d < watch->drive_count; d++) {
        struct watched *watched = &watch->drives[d];
        watched->look = NULL;
        for (uint16_t i = 0; i < show->look_count; i++) {
            for (uint8_t k = 0; k < show->looks[i].drive_count && strcmp(show->looks[i].name, watched->name) == 0; k++) {
                if (strcmp(drive_name(&show->looks[i], &show->looks[i].drives[k]), watched->number) == 0) {
                    watched->look = &show->looks[i];
                    watched->drive = &show->looks[i].drives[k];
                }
            }
        }
    }
    watch->show = show;
}

/* The number that a drive gives now: of the first segment on which its look is the newest. @return 0: on none. */
static int now_of(const struct watch *watch, const struct watched *watched, struct glanz_seen *seen) {
    if (watched->look == NULL) {
        return 0;
    }
    struct glanz_engine *engine = glanz_device_engine(watch->session->device);
    GLANZ_CONST struct glanz_show *show = glanz_device_show(watch->session->device);
    struct glanz_showing showing;
    for (uint8_t s = 0; s < show->segment_count; s++) {
        if (glanz_engine_showing(engine, s, &showing) == GLANZ_OK && showing.drives == watched->look->drives &&
            showing.drive_count != 0 && glanz_engine_seen(engine, s, seen) == GLANZ_OK) {
            return 1;
        }
    }
    return 0;
}

static int is_color(const struct watched *watched) {
    return watched->drive->param != GLANZ_DRIVE_BRIGHTNESS &&
           watched->look->effect->params[watched->drive->param].kind == GLANZ_PARAM_COLOR;
}

static struct glanz_light color_of(const struct watched *watched, const struct glanz_seen *seen) {
    uint8_t rank = 0;
    for (uint8_t i = 0; i < watched->drive->param; i++) {
        rank = (uint8_t)(rank + (watched->look->effect->params[i].kind == GLANZ_PARAM_COLOR));
    }
    return seen->color[rank];
}

static int32_t seen_number(const struct watched *watched, const struct glanz_seen *seen) {
    return watched->drive->param == GLANZ_DRIVE_BRIGHTNESS ? seen->brightness : seen->number[watched->drive->param];
}

/* As one decimal shows it: 359.97 is 0. */
static double degrees_of(uint32_t turn) {
    double degrees = (turn & 0xFFFFu) * 360.0 / 65536;
    return degrees >= 359.95 ? 0 : degrees;
}

/* The level of a signal now: in the unit of its input, an angle in degrees, all else in percent. */
static void level_text(char *out, size_t capacity, const struct watch *watch, uint8_t signal) {
    uint32_t level = glanz_control_level(glanz_device_control(watch->session->device), signal);
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(watch->session->device);
    GLANZ_CONST struct glanz_input *input = signal < rig->input_count ? &rig->inputs[signal] : NULL;
    if ((level & GLANZ_LEVEL_TURN) != 0 || (input != NULL && input->kind == GLANZ_INPUT_DIAL)) {
        snprintf(out, capacity, "%.1f deg", degrees_of(GLANZ_LEVEL_OF(level)));
    } else if (input != NULL && input->unit != NULL) {
        double way = ((double)input->reads_high - input->reads_low) * GLANZ_LEVEL_OF(level) / 65536;
        snprintf(out, capacity, "%.2f %.12s", (input->reads_low + way) / 1000, input->unit);
    } else {
        snprintf(out, capacity, "%.1f %%", GLANZ_LEVEL_OF(level) * 100.0 / 65536);
    }
}

/* What a drive gives now, in the unit of its number. @return 0: no segment shows it. */
static int driven_text(char *out, size_t capacity, const struct watch *watch, const struct watched *watched) {
    struct glanz_seen seen;
    if (!now_of(watch, watched, &seen)) {
        return 0;
    }
    if (is_color(watched)) {
        struct glanz_light light = color_of(watched, &seen);
        snprintf(out, capacity, "#%02x%02x%02x", glanz_coded(light.red), glanz_coded(light.green), glanz_coded(light.blue));
        return 1;
    }
    int32_t number = seen_number(watched, &seen);
    GLANZ_CONST struct glanz_param *param =
        watched->drive->param == GLANZ_DRIVE_BRIGHTNESS ? NULL : &watched->look->effect->params[watched->drive->param];
    if (param == NULL || param->kind == GLANZ_PARAM_SHARE) {
        snprintf(out, capacity, "%.1f %%", number * 100.0 / 65536);
    } else if (param->kind == GLANZ_PARAM_TURN) {
        snprintf(out, capacity, "%.1f deg", degrees_of((uint32_t)number));
    } else {
        uint8_t unit = watched->drive->unit == GLANZ_UNIT_NONE ? param->unit : watched->drive->unit;
        snprintf(out, capacity, "%.2f %s", number / 65536.0,
                 param->kind == GLANZ_PARAM_LENGTH ? "leds"
                 : unit == GLANZ_UNIT_LEDS         ? "leds/s"
                 : unit == GLANZ_UNIT_LENGTHS      ? "lengths/s"
                                                   : "passes/s");
    }
    return 1;
}

/* One line of the table. */
static void tell_line(struct watch *watch) {
    char text[64];
    follow_show(watch);
    printf("%8.2f s", (double)watch->session->now_us / 1e6);
    for (uint16_t i = 0; i < watch->signals; i++) {
        level_text(text, sizeof text, watch, (uint8_t)i);
        printf("  %14s", text);
    }
    for (int i = 0; i < watch->drive_count; i++) {
        printf("  %14s", driven_text(text, sizeof text, watch, &watch->drives[i]) ? text : "-");
    }
    putchar('\n');
}

/* The same for scripts: levels as parts of all, too. */
static void put_moment(struct watch *watch) {
    char text[64];
    follow_show(watch);
    facts_object(watch->facts, NULL);
    facts_number(watch->facts, "seconds", (double)watch->session->now_us / 1e6, 3);
    facts_list(watch->facts, "levels");
    for (uint16_t i = 0; i < watch->signals; i++) {
        facts_number(watch->facts, NULL,
                     GLANZ_LEVEL_OF(glanz_control_level(glanz_device_control(watch->session->device), (uint8_t)i)) / 65536.0,
                     5);
    }
    facts_end(watch->facts);
    facts_list(watch->facts, "signals");
    for (uint16_t i = 0; i < watch->signals; i++) {
        level_text(text, sizeof text, watch, (uint8_t)i);
        facts_text(watch->facts, NULL, text);
    }
    facts_end(watch->facts);
    facts_list(watch->facts, "drives");
    for (int i = 0; i < watch->drive_count; i++) {
        facts_text(watch->facts, NULL, driven_text(text, sizeof text, watch, &watch->drives[i]) ? text : NULL);
    }
    facts_end(watch->facts);
    facts_end(watch->facts);
}

/* What there is, before it is told over time; the lists of a moment have its order. */
static void put_facts(const struct watch *watch) {
    char is[200];
    facts_list(watch->facts, "signals");
    for (uint16_t i = 0; i < watch->signals; i++) {
        signal_text(is, sizeof is, watch, (uint8_t)i);
        facts_object(watch->facts, NULL);
        facts_text(watch->facts, "name", session_signal(watch->session, (uint8_t)i));
        facts_text(watch->facts, "is", is);
        facts_end(watch->facts);
    }
    facts_end(watch->facts);
    facts_list(watch->facts, "drives");
    for (int i = 0; i < watch->drive_count; i++) {
        facts_object(watch->facts, NULL);
        facts_text(watch->facts, "look", watch->drives[i].name);
        facts_text(watch->facts, "drives", watch->drives[i].number);
        facts_text(watch->facts, "signal", session_signal(watch->session, watch->drives[i].drive->signal));
        facts_end(watch->facts);
    }
    facts_end(watch->facts);
}

static void tell_head(const struct watch *watch) {
    printf("\n%10s", "time");
    for (uint16_t i = 0; i < watch->signals; i++) {
        printf("  %14.14s", session_signal(watch->session, (uint8_t)i));
    }
    for (int i = 0; i < watch->drive_count; i++) {
        printf("  %14.14s", watch->drives[i].name);
    }
    printf("\n%10s", "");
    for (uint16_t i = 0; i < watch->signals; i++) {
        printf("  %14s", "");
    }
    for (int i = 0; i < watch->drive_count; i++) {
        printf("  %14.14s", watch->drives[i].number);
    }
    putchar('\n');
}

/* A line for the plot: levels in percent of all or of a turn, drives in percent of their way. */
static void put_data(struct watch *watch, FILE *data) {
    follow_show(watch);
    fprintf(data, "%.4f", (double)watch->session->now_us / 1e6);
    for (uint16_t i = 0; i < watch->signals; i++) {
        fprintf(data, " %.3f",
                GLANZ_LEVEL_OF(glanz_control_level(glanz_device_control(watch->session->device), (uint8_t)i)) / 655.36);
    }
    for (int i = 0; i < watch->drive_count; i++) {
        struct glanz_seen seen;
        const struct watched *watched = &watch->drives[i];
        double way = watched->look == NULL ? 0 : (double)watched->drive->to - watched->drive->from;
        if (way != 0 && !is_color(watched) && now_of(watch, watched, &seen)) {
            double number = seen_number(watched, &seen);
            fprintf(data, " %.3f", (number - watched->drive->from) / way * 100);
        } else {
            fputs(" NaN", data);
        }
    }
    fputc('\n', data);
}

static int draw(const struct watch *watch, const char *data, const char *picture) {
    struct plot plot;
    unsigned lines = 0;
    if (!plot_begin(&plot, picture, "signals (% of all, or of a turn)")) {
        return EXIT_FILE;
    }
    fputs("set yrange [-4:104]\nset multiplot layout 2,1\nplot ", plot.gnuplot);
    for (uint16_t i = 0; i < watch->signals; i++) {
        fprintf(plot.gnuplot, "%s'%s' using 1:%u with lines lw 1.5 lc rgb '%s'", i == 0 ? "" : ", ", data, i + 2u,
                plot_shade(i));
        plot_title(&plot, session_signal(watch->session, (uint8_t)i), NULL, NULL);
    }
    fputs("\nset ylabel 'what follows them (% of the way)'\nplot ", plot.gnuplot);
    for (int i = 0; i < watch->drive_count; i++) {
        if (watch->drives[i].look != NULL && !is_color(&watch->drives[i])) {
            fprintf(plot.gnuplot, "%s'%s' using 1:%u with lines lw 1.5 lc rgb '%s'", lines == 0 ? "" : ", ", data,
                    watch->signals + (unsigned)i + 2u, plot_shade(watch->drives[i].drive->signal));
            plot_title(&plot, watch->drives[i].number, " of ", watch->drives[i].name);
            lines++;
        }
    }
    fputs(lines == 0 ? "NaN title 'colours alone, or nothing'\n" : "\n", plot.gnuplot);
    fputs("unset multiplot", plot.gnuplot);
    return plot_end(&plot);
}

static int watch_over_time(struct watch *watch, uint64_t for_us, uint64_t every_us, const char *picture) {
    struct session *session = watch->session;
    uint64_t frames = for_us * session->frame_rate / 1000000u;
    uint64_t next_us = 0;
    char scratch[] = "/tmp/glanz-signals-XXXXXX";
    FILE *data = NULL;
    if (picture != NULL) {
        int descriptor = mkstemp(scratch);
        data = descriptor < 0 ? NULL : fdopen(descriptor, "w");
        if (data == NULL) {
            complain_plain("cannot write %s: %s", scratch, strerror(errno));
            return EXIT_FILE;
        }
    }
    if (watch->facts != NULL) {
        facts_list(watch->facts, "moments");
    } else {
        tell_head(watch);
    }
    for (uint64_t i = 0; i <= frames; i++) {
        (void)session_step(session);
        if (session->now_us >= next_us) {
            watch->facts != NULL ? put_moment(watch) : tell_line(watch);
            next_us += every_us;
        }
        if (data != NULL) {
            put_data(watch, data);
        }
    }
    if (watch->facts != NULL) {
        facts_end(watch->facts);
    }
    int code = EXIT_GOOD;
    if (data != NULL) {
        code = fclose(data) == 0 ? draw(watch, scratch, picture) : EXIT_FILE;
        unlink(scratch);
    }
    return code;
}

static void find_drives(struct watch *watch) {
    GLANZ_CONST struct glanz_show *show = glanz_device_show(watch->session->device);
    for (uint16_t i = 0; i < show->look_count; i++) {
        for (uint8_t k = 0; k < show->looks[i].drive_count && watch->drive_count < WATCHED_MOST; k++) {
            struct watched *watched = &watch->drives[watch->drive_count++];
            watched->look = &show->looks[i];
            watched->drive = &show->looks[i].drives[k];
            snprintf(watched->name, sizeof watched->name, "%s", show->looks[i].name);
            snprintf(watched->number, sizeof watched->number, "%s", number_name(watched));
        }
    }
    watch->show = show;
}

/* What there is, then how it goes. @param facts NULL: as text */
static int tell_all(struct session *session, struct facts *facts, uint64_t for_us, uint64_t every_us, const char *picture) {
    static struct watch watch;
    memset(&watch, 0, sizeof watch);
    watch.session = session;
    watch.facts = facts;
    watch.signals = (uint16_t)(session->rig.rig->input_count + session->shows[0].show->signal_count);
    find_drives(&watch);
    if (facts != NULL) {
        facts_open(facts, stdout);
        put_facts(&watch);
    }
    for (uint16_t i = 0; facts == NULL && i < watch.signals; i++) {
        tell_signal(&watch, (uint8_t)i);
    }
    int code = watch_over_time(&watch, for_us, every_us, picture);
    if (facts != NULL) {
        facts_end(facts);
    }
    return code == EXIT_GOOD && session->complaints != 0 ? EXIT_REFUSED : code;
}

static int run(int argc, const char **argv) {
    static struct session session;
    struct facts facts;
    struct arguments arguments;
    struct glanz_board_setup setup;
    uint64_t for_us = 10000000;
    uint64_t every_us = 500000;
    int code = EXIT_GOOD;
    char *time_text = NULL;
    char *every_text = NULL;
    char *inputs = NULL;
    char *sound = NULL;
    char *picture = NULL;
    int json = 0;
    const struct poptOption options[] = {
        {"for", 't', POPT_ARG_STRING, &time_text, 0, "how long the show runs (default 10 s)", "TIME"},
        {"every", 'e', POPT_ARG_STRING, &every_text, 0, "time between lines of the table (default 500 ms)", "TIME"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "input log to play", "FILE"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file, - or alsa:NAME that the first input for sound hears", "FILE"},
        {"plot", 'p', POPT_ARG_STRING, &picture, 0, "draw signals, and the numbers that follow them, as a PNG, with gnuplot",
         "FILE"},
        {"json", 'j', POPT_ARG_NONE, &json, 0, "as JSON, for scripts", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_signals, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    memset(&setup, 0, sizeof setup);
    if ((time_text != NULL && !time_of(&for_us, time_text, "--for")) ||
        (every_text != NULL && !time_of(&every_us, every_text, "--every"))) {
        code = EXIT_USAGE;
    } else if (every_us < 1000) {
        complain_plain("--every: expected at least 1 ms");
        code = EXIT_USAGE;
    } else {
        setup.sound = sound;
        code = session_open(&session, arguments.path[0], arguments.path[1], inputs, &setup, 0);
    }
    if (code == EXIT_GOOD) {
        code = tell_all(&session, json ? &facts : NULL, for_us, every_us, picture);
        session_close(&session);
    }
    free(time_text);
    free(every_text);
    free(inputs);
    free(sound);
    free(picture);
    arguments_free(&arguments);
    return code;
}

const struct command command_signals = {
    "signals",  "what dials, waves and clocks do: signals and what follows them, over time",
    "RIG SHOW", "  glanz signals demo/rig.json demo/show.json --inputs demo/visitor.jsonl --plot out/signals.png\n",
    run,        SEES_STORE};
