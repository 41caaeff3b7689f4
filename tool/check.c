/* SPDX-License-Identifier: MIT */
/* check: read a rig and a show, and say what they are. */
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "drive_words.h"

/* Outputs send at the same time, so the longest line decides: how much would an even division gain? */
static void tell_division(GLANZ_CONST struct glanz_rig *rig, uint32_t frames) {
    uint32_t longest_us = 0;
    uint64_t all_us = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        uint32_t wire_us = glanz_output_wire_us(&rig->outputs[o]);
        longest_us = wire_us > longest_us ? wire_us : longest_us;
        all_us += wire_us;
    }
    uint32_t even_us = (uint32_t)(all_us / rig->output_count);
    if (rig->output_count > 1) {
        printf("  the longest line takes %.2f ms of the %.2f ms between frames; divided evenly over the %u outputs it would be "
               "%.2f ms\n",
               longest_us / 1000.0, 1000.0 / frames, rig->output_count, even_us / 1000.0);
    }
}

static void tell_rig(GLANZ_CONST struct glanz_rig *rig) {
    printf("rig \"%s\": %u output%s, %u surface%s, %u input%s\n", rig->name, rig->output_count,
           rig->output_count == 1 ? "" : "s", rig->surface_count, rig->surface_count == 1 ? "" : "s", rig->input_count,
           rig->input_count == 1 ? "" : "s");
    if (rig->placed) {
        printf("  place: %.4f %c, %.4f %c", abs((int)rig->latitude) / 1e4, rig->latitude < 0 ? 'S' : 'N',
               abs((int)rig->longitude) / 1e4, rig->longitude < 0 ? 'W' : 'E');
        printf("; zone %s\n", rig->zone == NULL ? "UTC" : rig->zone);
    }
    uint32_t frames = rig->frames_per_s == 0 ? 100 : rig->frames_per_s;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        uint32_t wire_us = glanz_output_wire_us(output);
        uint32_t led_ns = glanz_chip_led_ns(output->stretches[0].chip);
        uint32_t fixed_us = wire_us - (uint32_t)((uint64_t)glanz_output_leds(output) * led_ns / 1000u);
        uint32_t fit =
            fixed_us >= 1000000u / frames ? 0 : (uint32_t)((uint64_t)(1000000u / frames - fixed_us) * 1000u / led_ns);
        printf("  output \"%s\" on pin %u: %u LEDs, %u bytes, %.2f ms on the wire, up to %u frames/s; at %u frames/s it could "
               "carry %u LEDs\n",
               output->name, output->pin, glanz_output_leds(output), (unsigned)glanz_output_bytes(output), wire_us / 1000.0,
               1000000u / wire_us, frames, fit);
        for (uint8_t i = 0; i < output->stretch_count; i++) {
            printf("    %u x %s\n", output->stretches[i].leds, output->stretches[i].chip->name);
        }
        if (wire_us > 1000000u / frames && fit == 0) {
            printf("    warning: not one LED can be sent %u times a second\n", frames);
        } else if (wire_us > 1000000u / frames) {
            uint32_t leds = glanz_output_leds(output);
            uint32_t lines = (leds + fit - 1) / fit;
            printf("    warning: the wire is too slow for %u frames/s: divide the line over %u outputs of at most %u LEDs, or "
                   "ask for %u frames/s\n",
                   frames, lines, (leds + lines - 1) / lines, 1000000u / wire_us);
        }
        for (uint8_t i = 0; i < output->stretch_count; i++) {
            GLANZ_CONST struct glanz_chip *chip = output->stretches[i].chip;
            if (chip->millivolts != rig->supplies[output->supply].millivolts) {
                printf("    warning: %s is made for %.0f V; supply \"%s\" gives %.0f V\n", chip->name,
                       chip->millivolts / 1000.0, rig->supplies[output->supply].name,
                       rig->supplies[output->supply].millivolts / 1000.0);
            }
        }
    }
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        double idle = 0;
        double step = 0;
        for (uint8_t o = 0; o < rig->output_count; o++) {
            idle += rig->outputs[o].supply == s ? glanz_output_ua(&rig->outputs[o], 0) / 1000.0 : 0;
            step += rig->outputs[o].supply == s
                        ? (glanz_output_ua(&rig->outputs[o], 15) - glanz_output_ua(&rig->outputs[o], 0)) / 255000.0
                        : 0;
        }
        if (rig->supplies[s].limit_ma != 0 && rig->supplies[s].limit_ma - idle < step) {
            printf(
                "  warning: the limit of supply \"%s\" leaves %.1f mA above the %.0f mA that its dark LEDs draw; one chip step "
                "of all its LEDs draws %.1f mA, so that they cannot all be lit: raise the limit, or light fewer\n",
                rig->supplies[s].name, rig->supplies[s].limit_ma - idle, idle, step);
        }
    }
    tell_division(rig, frames);
    for (uint8_t i = 0; i < rig->input_count; i++) {
        struct glanz_hearing how = glanz_hearing_filled(&rig->inputs[i].hearing);
        if (rig->inputs[i].kind == GLANZ_INPUT_SOUND) {
            printf("  input \"%s\" hears %u bands of %.2f octaves, %u Hz to %u Hz, at %u samples a second\n",
                   rig->inputs[i].name, how.bands, (glanz_log2(how.high_hz) - glanz_log2(how.low_hz)) / 65536.0 / how.bands,
                   how.low_hz, how.high_hz, how.rate_hz);
        }
    }
    printf("  device memory: %zu bytes on this machine with 8 segments\n", glanz_device_size(rig, 8));
}

/* A look on a segment: does its effect look right on so small a field? */
static void check_size(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_segment *segment,
                       GLANZ_CONST struct glanz_look *look) {
    struct glanz_field field;
    if (look == NULL || !glanz_region_field(&field, &segment->region, &rig->surfaces[segment->surface])) {
        return;
    }
    GLANZ_CONST struct glanz_effect *effect = look->effect;
    uint16_t most = field.columns > field.rows ? field.columns : field.rows;
    if (field.rows == 1 ? most < effect->least_rows
                        : field.columns < effect->least_columns || field.rows < effect->least_rows) {
        printf("  warning: segment \"%s\" has %u x %u LEDs; \"%s\" (look \"%s\") wants %u x %u, or a line of %u, and more\n",
               segment->name, field.columns, field.rows, effect->name, look->name, effect->least_columns, effect->least_rows,
               effect->least_rows);
    } else if (effect->memory != NULL && look->content == NULL && glanz_look_memory(segment, look, rig) == 0) {
        printf("  warning: segment \"%s\" has %u LEDs: too many for \"%s\" (look \"%s\") to remember; only its background is "
               "shown\n",
               segment->name, field.leds, effect->name, look->name);
    } else if (effect->shade_field == NULL && field.length == 1) {
        printf("  warning: segment \"%s\" has one column only for look \"%s\" to move in; see \"lies\" and \"turned\"\n",
               segment->name, look->name);
    }
}

/* A look that lives on sound: is there any for it? */
static void check_hearing(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_look *look) {
    int sources = 0;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        sources += rig->inputs[i].kind == GLANZ_INPUT_SOUND;
    }
    if (look->effect == NULL || (look->effect->needs & GLANZ_NEEDS_SOUND) == 0) {
        return;
    }
    for (uint8_t i = 0; i < look->setting_count; i++) {
        uint32_t heard = (uint32_t)look->settings[i].number;
        if (look->effect->params[look->settings[i].param].kind == GLANZ_PARAM_SIGNAL && heard != 0 &&
            (heard > rig->input_count || rig->inputs[heard - 1u].kind != GLANZ_INPUT_SOUND)) {
            printf("  warning: look \"%s\" hears what is no input for sound; it stays dark\n", look->name);
            return;
        }
    }
    if (sources == 0) {
        printf("  warning: look \"%s\" lives on sound, and the rig has no input for it; it stays dark\n", look->name);
    }
}

/* What can be but may not be meant. */
static void check_looks(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    tell_missing(stdout, show);
    for (uint8_t i = 0; i < show->segment_count; i++) {
        check_size(rig, &show->segments[i], show->segments[i].look);
    }
    for (uint8_t i = 0; i < show->preset_count; i++) {
        for (uint8_t p = 0; p < show->presets[i].part_count; p++) {
            GLANZ_CONST struct glanz_part *part = &show->presets[i].parts[p];
            check_size(rig, &show->segments[part->segment], part->look);
        }
    }
    for (uint16_t i = 0; i < show->look_count; i++) {
        check_hearing(rig, &show->looks[i]);
    }
    size_t bytes = glanz_show_memory(show, rig);
    if (bytes != 0) {
        printf("  effects remember in up to %zu bytes, beside the device's\n", bytes);
    }
}

/* Masks that have nothing to decide, or whose look does not tell what it covers. */
static void check_masks(GLANZ_CONST struct glanz_show *show) {
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *mask = &show->segments[show->stack == NULL ? i : show->stack[i]];
        GLANZ_CONST struct glanz_segment *below =
            i == 0 ? NULL : &show->segments[show->stack == NULL ? i - 1 : show->stack[i - 1]];
        if (mask->blend < GLANZ_BLENDS) {
            continue;
        }
        if (below == NULL || below->surface != mask->surface) {
            printf("  warning: no segment of its surface lies right below the mask \"%s\" in the stack; it has nothing to "
                   "decide\n",
                   mask->name);
        } else if (mask->blend >= GLANZ_BLEND_MASK_BY_COVERAGE && mask->look != NULL &&
                   (mask->look->effect->needs & GLANZ_NEEDS_COVER) == 0) {
            printf("  warning: look \"%s\" of the mask \"%s\" covers all of it; expected one that lets light through, or a "
                   "mask by "
                   "brightness\n",
                   mask->look->name, mask->name);
        }
    }
}

/* A start that shows what may not be there yet. */
static void check_start(GLANZ_CONST struct glanz_show *show) {
    int there = show->start == NULL || show->start->kind->value != GLANZ_VALUE_SAVED;
    for (uint8_t i = 0; i < show->preset_count && !there; i++) {
        there = strcmp(show->presets[i].name, show->start->param) == 0;
    }
    if (!there) {
        printf(
            "  warning: until a preset is saved as \"%s\" nothing is done at power-on; a preset of the show of that name would "
            "come instead\n",
            show->start->param);
    }
}

static void tell_show(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
    printf("show \"%s\": %u looks, %u segments, %u presets, %u playlists, %u triggers", show->name, show->look_count,
           show->segment_count, show->preset_count, show->playlist_count, show->trigger_count);
    if (show->entry_count != 0) {
        printf(", %u entries in the calendar", show->entry_count);
    }
    printf(show->resume ? "; it is resumed after the power went\n" : "\n");
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *segment = &show->segments[i];
        struct glanz_field field = {0};
        (void)glanz_region_field(&field, &segment->region, &rig->surfaces[segment->surface]);
        printf("  segment \"%s\": LEDs %u to %u of \"%s\"", segment->name, field.first, field.first + field.leds - 1u,
               rig->surfaces[segment->surface].name);
        if (field.picked != 0) {
            printf(", %u of them picked", field.picked);
        }
        if (field.rows > 1) {
            printf(", %u x %u", field.columns, field.rows);
        }
        printf("%s%s\n", segment->look == NULL ? "" : ", look ", segment->look == NULL ? "" : segment->look->name);
    }
    drives_tell(show, rig);
    check_start(show);
    check_masks(show);
    check_looks(rig, show);
}

static int run_check(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document show;
    char *patch = NULL;
    int code;
    const struct poptOption options[] = {
        {"patch", 'p', POPT_ARG_STRING, &patch, 0, "apply this merge patch to the show first", "FILE"}, POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_check, argc, argv, options, 1, 2, &code)) {
        return code;
    }
    code = documents_read(&rig, &show, arguments.path[0], arguments.path[1], patch);
    if (code == EXIT_GOOD) {
        tell_rig(rig.rig);
        if (show.show != NULL) {
            tell_show(show.show, rig.rig);
        }
    }
    document_free(&show);
    document_free(&rig);
    free(patch);
    arguments_free(&arguments);
    return code;
}

const struct command command_check = {"check", "read a rig and a show, and say what they are or what is wrong", "RIG [SHOW]",
                                      "  glanz check demo/rig.json demo/show.json\n", run_check};
