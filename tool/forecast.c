/* SPDX-License-Identifier: MIT */
/* forecast: what a rig and a show will take on a class of CPU, before anything is flashed, from the bench's tables. */
#include <stdlib.h>
#include <string.h>
#include <strings.h>

#include "commands.h"
#include "costs.h"
#include "effects.h"
#include "facts.h"
#include "forecast.h"

static const struct costs *costs_of(const char *cpu) {
    for (size_t i = 0; i < COUNT(all_costs); i++) {
        if (strcasecmp(all_costs[i].cpu, cpu) == 0) {
            return &all_costs[i];
        }
    }
    return NULL;
}

/* An effect of one's own was not measured: it counts as the middle one of the catalogue. */
static int middle_effect(void) {
    int cheaper = 0;
    for (int i = 0; i < COST_EFFECTS; i++, cheaper = 0) {
        for (int j = 0; j < COST_EFFECTS; j++) {
            cheaper += all_costs[0].effect[j].led < all_costs[0].effect[i].led;
        }
        if (cheaper == COST_EFFECTS / 2) {
            return i;
        }
    }
    return 0;
}

static int effect_index(const char *name) {
    for (int i = 0; i < COST_EFFECTS; i++) {
        if (strcmp(all_costs[0].effect[i].name, name) == 0) {
            return i;
        }
    }
    return middle_effect();
}

/* The preset that the start action leads to; 255: none. */
static uint8_t start_of(GLANZ_CONST struct glanz_show *show) {
    if (show->start != NULL && show->start->kind == &glanz_action_recall) {
        return show->start->target;
    }
    if (show->start != NULL && show->start->kind == &glanz_action_play) {
        return show->playlists[show->start->target].items[0].preset;
    }
    return 255;
}

/* Stops of the palette that lie along a segment at any moment. */
static double stops_along(GLANZ_CONST struct glanz_look *look, double points) {
    double spans = 1;
    if (strcmp(look->effect->name, "flow") != 0 || look->gradient == NULL) {
        return 0;
    }
    for (uint8_t i = 0; i < look->setting_count; i++) {
        if (look->settings[i].param == GLANZ_FLOW_SPAN) {
            double span = look->settings[i].number / 65536.0;
            spans = look->settings[i].unit == GLANZ_UNIT_LEDS ? points / span : 1 / span;
        }
    }
    double stops = look->gradient->count * spans - 6; /* so many are in the effect's own cost */
    return stops < 0 ? 0 : stops > points ? points : stops;
}

/* How much of a segment a comet's tail lies on: down to 2^-16 of the head's light, 2.4 times its length. */
static double tail_share(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_segment *segment, uint32_t leds) {
    double points = glanz_region_length(&segment->region, (uint16_t)leds);
    double tail = look->effect->params[GLANZ_COMET_TAIL].standard / 65536.0;
    for (uint8_t i = 0; i < look->setting_count; i++) {
        if (look->settings[i].param == GLANZ_COMET_TAIL) {
            tail = look->settings[i].number / 65536.0 * (look->settings[i].unit == GLANZ_UNIT_LENGTHS ? points : 1);
        }
    }
    return 2.4 * tail > points ? 1 : 2.4 * tail / points;
}

/* Pieces of surfaces on an output, and the LEDs between them that no surface has. */
static unsigned parts_of(GLANZ_CONST struct glanz_rig *rig, uint8_t output) {
    unsigned parts = 0;
    uint32_t taken = 0;
    uint32_t leds = glanz_output_leds(&rig->outputs[output]);
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        for (uint8_t p = 0; p < rig->surfaces[s].piece_count; p++) {
            GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[p];
            if (piece->output == output) {
                parts++;
                taken += piece->leds;
                parts += piece->first != 0 && taken < leds; /* most often there is a gap before it */
            }
        }
    }
    return parts + (taken < leds && parts != 0);
}

/* Could a supply's limit bind at the show's brightness? Then light is counted. */
static int may_bind(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, uint8_t supply) {
    double gain = glanz_lightness(show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness) / 65536.0;
    double most = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        if (rig->outputs[o].supply == supply) {
            double idle = glanz_output_ua(&rig->outputs[o], 0);
            most += idle + gain * (glanz_output_ua(&rig->outputs[o], 15) - idle);
        }
    }
    return rig->supplies[supply].limit_ma != 0 && most / 1000 > rig->supplies[supply].limit_ma;
}

/* Instructions of a frame with what shows after a preset (255: none), nothing fading. */
static double frame_cost(const struct costs *costs, double light, GLANZ_CONST struct glanz_rig *rig,
                         GLANZ_CONST struct glanz_show *show, uint8_t preset) {
    double cost = costs->frame + costs->output * (rig->output_count - 1) + costs->segment * (show->segment_count - 1);
    unsigned drives = show->drive != NULL;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        unsigned parts = parts_of(rig, o);
        cost += may_bind(rig, show, rig->outputs[o].supply) ? planned_costs[costs - all_costs] : 0;
        cost += parts > 1 ? costs->part * (parts - 1) : 0;
        for (uint8_t i = 0; i < rig->outputs[o].stretch_count; i++) {
            GLANZ_CONST struct glanz_stretch *stretch = &rig->outputs[o].stretches[i];
            double led = light + (may_bind(rig, show, rig->outputs[o].supply) ? counted_costs[costs - all_costs] : 0);
            if (stretch->chip->protocol == GLANZ_CLOCKED) {
                led += costs->clocked;
            } else if (stretch->chip->channels == 4) {
                led += stretch->white_kelvin != 0 ? costs->white : costs->white_unused;
            }
            cost += led * stretch->leds;
        }
    }
    for (uint8_t position = 0; position < show->segment_count; position++) {
        uint8_t index = show->stack == NULL ? position : show->stack[position];
        GLANZ_CONST struct glanz_segment *segment = &show->segments[index];
        uint8_t on;
        uint16_t brightness;
        GLANZ_CONST struct glanz_look *look = forecast_look_of(show, preset, index, &on, &brightness);
        struct cover cover = forecast_cover_of(segment, rig);
        if (show->segment_count > 1 && segment->region.first != 0 &&
            segment->region.first + cover.over != glanz_surface_leds(&rig->surfaces[segment->surface])) {
            cost += costs->part; /* what lies under it goes on behind it */
        }
        int effect = look == NULL ? -1 : effect_index(look->effect->name);
        drives += segment->drive_count;
        if (effect < 0 || !on || forecast_hidden(show, preset, rig, position)) {
            continue;
        }
        double led = costs->effect[effect].led - light;
        int dimmed = (brightness != 0 && brightness != 65535) || (look->brightness != 0 && look->brightness != 65535);
        int opaque = segment->blend == GLANZ_BLEND_COVER && (segment->opacity == 0 || segment->opacity == 65535) &&
                     segment->region.stencil[0] == 0 && (look->effect->needs & GLANZ_NEEDS_COVER) == 0;
        if (rig->surfaces[segment->surface].kind >= GLANZ_SURFACE_GRID) {
            led += (look->effect->shade_field == NULL ? costs->field : 0) +
                   (segment->region.mapping >= GLANZ_MAPPING_ROWS ? costs->lying : 0) +
                   (segment->region.turned != 0 ? costs->turned : 0);
        }
        if (strcmp(look->effect->name, "comet") == 0) {
            led += costs->comet_tail * (tail_share(look, segment, cover.lit) - 29.0 / 256);
        }
        for (uint8_t i = 0; i < look->setting_count; i++) {
            if (strcmp(look->effect->name, "comet") == 0 && look->settings[i].param == GLANZ_COMET_WAY &&
                look->settings[i].number == 1) {
                led += costs->comet_back;
            }
        }
        int aside = strcmp(look->effect->name, "beam") == 0 && rig->surfaces[segment->surface].kind == GLANZ_SURFACE_STRIP;
        led += aside ? costs->radial : 0; /* a root and a bearing for each LED, as for what runs outward */
        if (look->gradient != NULL && look->gradient->runs != GLANZ_RUNS_BY_EFFECT) {
            led += look->gradient->runs >= GLANZ_RUNS_OUTWARD ? costs->radial : costs->spread;
        }
        drives += look->drive_count;
        led += (dimmed ? costs->dimmed : 0) +
               (opaque ? 0 : costs->blend[segment->blend < GLANZ_BLENDS ? segment->blend : GLANZ_BLEND_MULTIPLY]);
        cost += costs->effect[effect].frame + led * cover.lit + costs->stop * stops_along(look, cover.lit);
        if (segment->region.stencil[0] != 0) {
            cost += costs->stencil * cover.over;
        } else if (segment->region.mirrored || segment->region.grain > 1) {
            cost += (segment->region.grain > 1 ? costs->grained : costs->placed) * cover.over;
        }
    }
    return cost + drives * drive_costs[costs - all_costs] + show->signal_count * signal_costs[costs - all_costs];
}

/* Effects whose cost depends on what they show at the moment. */
static int is_loose(const char *name) {
    static const char *const names[] = {
        "comet",    "needle",  "fire",     "rain",        "ripples",    "clouds",  "fireworks", "fountain", "marbles",
        "tidemark", "columns", "loudness", "sonogram",    "sparks",     "hoppers", "text",      "picture",  "marked",
        "beam",     "glints",  "rope",     "snowfall",    "stars",      "waves",   "surf",      "wake",     "weed",
        "fogbank",  "shoal",   "lanterns", "sea sparkle", "clock face", "sea mark"};
    size_t i = 0;
    while (i < COUNT(names) && strcmp(names[i], name) != 0) {
        i++;
    }
    return i < COUNT(names);
}

/* Which of a show's effects do so. */
static void tell_loose(GLANZ_CONST struct glanz_show *show, int own) {
    int told = 0;
    for (int e = 0; effects_all()[e] != NULL; e++) {
        uint16_t look = 0;
        while (look < show->look_count && show->looks[look].effect != effects_all()[e]) {
            look++;
        }
        if (look < show->look_count && (own ? effects_path(effects_all()[e]) != NULL : is_loose(effects_all()[e]->name))) {
            printf("%s%s",
                   told++ != 0 ? ", "
                   : own       ? "  not measured, counted as the middle effect of the catalogue: "
                               : "  a guide, not a bound; what these take depends on what they show: ",
                   effects_all()[e]->name);
        }
    }
    fputs(told == 0 ? "" : "\n", stdout);
}

/* How many samples all rates have for each that is pushed, and how many of bands are worked on: see src/sound/bands.c. */
static void rates_of(double *rates, double *bands, const struct glanz_hearing *how) {
    uint32_t rate = (uint32_t)how->rate_hz * 16u;
    int deepest = 0;
    *bands = 0;
    for (uint8_t i = 0; i < how->bands; i++) {
        int octave = 0;
        while (octave < 8 &&
               (uint64_t)glanz_hearing_edge(how, (uint8_t)(i + 1)) * 5u <= (uint64_t)(rate >> (octave + 1)) * 2u) {
            octave++;
        }
        *bands += 1.0 / (1 << octave);
        deepest = octave > deepest ? octave : deepest;
    }
    *rates = 2 - 1.0 / (1 << deepest);
}

/* What listening takes beside the frames. @return its share of the CPU, in percent. */
static double tell_sound(const struct costs *costs, double clock_mhz, double cycles, GLANZ_CONST struct glanz_rig *rig,
                         GLANZ_CONST struct glanz_show *show) {
    const double *cost = sound_costs[costs - all_costs];
    double all = 0;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        if (rig->inputs[i].kind != GLANZ_INPUT_SOUND) {
            continue;
        }
        struct glanz_hearing how = glanz_hearing_filled(&rig->inputs[i].hearing);
        int tempo = forecast_hears(show, i, GLANZ_HEARS_BEAT, GLANZ_HEARS_TRUST);
        int pitch = forecast_hears(show, i, GLANZ_HEARS_PITCH, GLANZ_HEARS_NOTE);
        double rates;
        double bands;
        rates_of(&rates, &bands, &how);
        double ticks = cost[2] * how.bands + cost[3] + (tempo ? cost[4] : 0); /* of 5 ms */
        double sample = cost[0] * rates + cost[1] * bands + ticks * 200 / how.rate_hz + (pitch ? cost[5] : 0);
        double percent = sample * how.rate_hz * cycles / (clock_mhz * 10000.0);
        struct glanz_sound_setup setup = {tempo ? &glanz_sound_tempo : NULL, pitch ? &glanz_sound_pitch : NULL, NULL,
                                          how.bands};
        printf("  sound of \"%s\": %.0f instructions a sample, %.0f %% of the time, %zu bytes of RAM; %u bands%s%s\n",
               rig->inputs[i].name, sample, percent, glanz_sound_size(&setup), how.bands, tempo ? ", tempo" : "",
               pitch ? ", pitch" : "");
        all += percent;
    }
    return all;
}

struct forecast {          /* of a rig and a show on a class of CPU */
    double start, dearest; /* instructions of a frame */
    uint8_t which;         /* the preset that is the dearest; 255: the start */
    double ms;             /* of an instruction */
    double wire_ms, period;
    int two;   /* every output has two buffers */
    int limit; /* some supply has one */
    unsigned wanted, ram, led_bytes;
};

static struct forecast forecast_of(const struct costs *costs, double light, double clock_mhz, double cycles,
                                   GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    struct forecast of = {.which = 255, .two = 1, .ms = cycles / (clock_mhz * 1000.0)};
    of.ram = forecast_ram(rig, show, &of.led_bytes);
    of.start = frame_cost(costs, light, rig, show, start_of(show));
    of.dearest = of.start;
    for (uint8_t i = 0; i < show->preset_count; i++) {
        double one = frame_cost(costs, light, rig, show, i);
        of.which = one > of.dearest ? i : of.which;
        of.dearest = one > of.dearest ? one : of.dearest;
    }
    for (uint8_t o = 0; o < rig->output_count; o++) {
        double line_ms = glanz_output_wire_us(&rig->outputs[o]) / 1000.0;
        of.wire_ms = line_ms > of.wire_ms ? line_ms : of.wire_ms;
        of.two = of.two && (rig->outputs[o].buffers == 2 || rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED);
        of.limit = of.limit || rig->supplies[rig->outputs[o].supply].limit_ma != 0;
    }
    double frame_ms = of.dearest * of.ms;
    of.period = of.two ? (frame_ms > of.wire_ms ? frame_ms : of.wire_ms) : frame_ms + of.wire_ms;
    of.wanted = rig->frames_per_s == 0 ? 100 : rig->frames_per_s;
    return of;
}

static void print_facts(const struct forecast *of, const struct costs *costs, double clock_mhz, double cycles,
                        GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    struct facts facts;
    facts_open(&facts, stdout);
    facts_text(&facts, "cpu", costs->cpu);
    facts_number(&facts, "clock_mhz", clock_mhz, 3);
    facts_number(&facts, "cycles_per_instruction", cycles, 2);
    facts_number(&facts, "start_instructions", of->start, 0);
    facts_number(&facts, "start_ms", of->start * of->ms, 3);
    facts_text(&facts, "dearest_preset", of->which == 255 ? NULL : show->presets[of->which].name);
    facts_number(&facts, "dearest_instructions", of->dearest, 0);
    facts_number(&facts, "dearest_ms", of->dearest * of->ms, 3);
    facts_number(&facts, "wire_ms", of->wire_ms, 3);
    facts_flag(&facts, "shaded_while_sending", of->two);
    facts_number(&facts, "frames_per_s", 1000.0 / of->period, 1);
    facts_number(&facts, "frames_per_s_wanted", of->wanted, 0);
    facts_number(&facts, "cpu_percent", of->dearest * of->ms * of->wanted / 10.0, 1);
    facts_number(&facts, "ram", of->ram, 0);
    facts_number(&facts, "ram_of_leds", of->led_bytes, 0);
    facts_number(&facts, "stack", COST_STACK, 0);
    facts_number(&facts, "ram_of_store", COST_RAM_STORE, 0);
    facts_number(&facts, "flash", forecast_flash(rig, show), 0);
    facts_number(&facts, "flash_of_documents", forecast_flash_of("documents"), 0);
    facts_end(&facts);
}

static void notify(const struct forecast *of, const struct costs *costs, double clock_mhz, double cycles,
                   GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    unsigned led_bytes = of->led_bytes;
    unsigned ram = of->ram;
    double instructions = of->start;
    double dearest = of->dearest;
    uint8_t which = of->which;
    double ms = of->ms;
    double frame_ms = dearest * ms;
    double wire_ms = of->wire_ms;
    int two = of->two;
    int limit = of->limit;
    double period = of->period;
    unsigned wanted = of->wanted;
    printf("forecast for %s at %g MHz\n", costs->cpu, clock_mhz);
    printf("  a frame at the start: %.0f instructions, %.2f ms at %.2f cycles an instruction\n", instructions,
           instructions * ms, cycles);
    if (which != 255) {
        printf("  the dearest preset, \"%s\": %.0f instructions, %.2f ms\n", show->presets[which].name, dearest, frame_ms);
    }
    printf("  in a crossfade up to the sum of both%s\n", limit ? "; twice that when a limit makes it shade again" : "");
    tell_loose(show, 0);
    tell_loose(show, 1);
    printf("  on the wire: %.2f ms%s\n", wire_ms,
           two ? ", while the next frame is shaded" : ", and nothing is shaded meanwhile (one byte buffer)");
    printf("  frames a second: up to %.0f; asked for: %u, which keeps the CPU busy for %.0f %% of the time\n", 1000.0 / period,
           wanted, frame_ms * wanted / 10.0 > 100 ? 100 : frame_ms * wanted / 10.0);
    double listening = tell_sound(costs, clock_mhz, cycles, rig, show);
    if (listening + frame_ms * wanted / 10.0 > 100) {
        printf("  warning: sound and %u frames a second take %.0f %% of the time; ask for fewer bands, a lower rate or fewer "
               "frames, or use a faster CPU\n",
               wanted, listening + frame_ms * wanted / 10.0);
    }
    printf("  RAM: %u bytes (%u of them for LEDs) and up to %d of stack; %d more for a store\n", ram, led_bytes, COST_STACK,
           COST_RAM_STORE);
    printf("  flash: about %u bytes beside the show itself%s%s (Cortex-M0+, -Os), %u more to read documents on the device",
           forecast_flash(rig, show), show->entry_count != 0 ? ", with the calendar" : "", show->resume ? ", with a store" : "",
           forecast_flash_of("documents"));
    if (!show->resume) {
        printf(", %u more with a store", forecast_flash_of("saving"));
    }
    putchar('\n');
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        uint32_t full = 0;
        uint32_t idle = 0;
        for (uint8_t o = 0; o < rig->output_count; o++) {
            if (rig->outputs[o].supply == s) {
                full += glanz_output_ua(&rig->outputs[o], 15) / 1000u;
                idle += glanz_output_ua(&rig->outputs[o], 0) / 1000u;
            }
        }
        printf("  supply \"%s\": %u mA with all LEDs dark, %u mA with all full", rig->supplies[s].name, (unsigned)idle,
               (unsigned)full);
        if (rig->supplies[s].limit_ma != 0) {
            printf(", never more than its limit of %u mA", (unsigned)rig->supplies[s].limit_ma);
        }
        printf("\n");
    }
    if (period > 1000.0 / wanted) {
        printf("  warning: %u frames a second will not be reached; ask for %.0f, use a faster CPU, %s\n", wanted,
               1000.0 / period, two ? "or divide the LEDs over more outputs" : "or give the outputs two byte buffers");
    }
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    char *cpu = NULL;
    char *clock = NULL;
    char *cycles = NULL;
    int plain = 0;
    int json = 0;
    int code;
    const struct poptOption options[] = {
        {"cpu", 'c', POPT_ARG_STRING, &cpu, 0, "Cortex-M0+, Cortex-M4 or RV32IMC (default: Cortex-M0+)", "CPU"},
        {"clock", 'k', POPT_ARG_STRING, &clock, 0, "its clock (default: 48 MHz)", "MHZ"},
        {"cycles", '\0', POPT_ARG_STRING, &cycles, 0, "cycles an instruction takes on average, memory and all (default: 1.4)",
         "NUMBER"},
        {"instructions", '\0', POPT_ARG_NONE, &plain, 0, "print only the instructions of a frame", NULL},
        {"json", 'j', POPT_ARG_NONE, &json, 0, "as JSON, for scripts", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_forecast, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    struct session session;
    struct glanz_board_setup setup;
    memset(&setup, 0, sizeof setup);
    const struct costs *costs = costs_of(cpu == NULL ? "Cortex-M0+" : cpu);
    char *end = NULL;
    double mhz = clock == NULL ? 48 : strtod(clock, &end);
    int bad_clock =
        clock != NULL && (end == clock || (*end != '\0' && strcasecmp(end, " MHz") != 0 && strcasecmp(end, "MHz") != 0));
    double each = cycles == NULL ? 1.4 : strtod(cycles, &end);
    int bad_cycles = cycles != NULL && (end == cycles || *end != '\0');
    if (costs == NULL) {
        complain_plain("--cpu %s: expected Cortex-M0+, Cortex-M4 or RV32IMC", cpu);
        code = EXIT_USAGE;
    } else if (bad_clock || !(mhz >= 1 && mhz <= 5000)) {
        complain_plain("--clock %s: expected a clock such as \"48 MHz\", 1 to 5000", clock);
        code = EXIT_USAGE;
    } else if (bad_cycles || !(each >= 0.1 && each <= 100)) {
        complain_plain("--cycles %s: expected a number of 0.1 to 100", cycles);
        code = EXIT_USAGE;
    } else if ((code = session_open(&session, arguments.path[0], arguments.path[1], NULL, &setup, 100)) == EXIT_GOOD) {
        double light = light_costs[costs - all_costs];
        if (plain) {
            printf("%.0f\n", frame_cost(costs, light, session.rig.rig, session.shows[0].show, start_of(session.shows[0].show)));
        } else {
            struct forecast of = forecast_of(costs, light, mhz, each, session.rig.rig, session.shows[0].show);
            (json ? print_facts : notify)(&of, costs, mhz, each, session.rig.rig, session.shows[0].show);
        }
        session_close(&session);
    }
    free(cpu);
    free(clock);
    free(cycles);
    arguments_free(&arguments);
    return code;
}

const struct command command_forecast = {"forecast", "tell RAM, flash, time and current of a rig and a show on a class of CPU",
                                         "RIG SHOW",
                                         "  glanz forecast demo/rig.json demo/show.json --cpu Cortex-M4 --clock 120MHz\n", run, SEES_STORE};
