/* SPDX-License-Identifier: MIT */
/* check: read a rig and a show, and say what they are. */
#include <stdlib.h>
#include <string.h>

#include "advice.h"
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

/* "1 output", "2 outputs" */
static void tell_count(const char *before, unsigned count, const char *what) {
    printf("%s%u %s%s", before, count, what, count == 1 ? "" : "s");
}

static void tell_rig(GLANZ_CONST struct glanz_rig *rig) {
    printf("rig \"%s\": ", rig->name);
    tell_count("", rig->output_count, "output");
    tell_count(", ", rig->surface_count, "surface");
    tell_count(", ", rig->input_count, "input");
    putchar('\n');
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

static void tell_show(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
    printf("show \"%s\": ", show->name);
    tell_count("", show->look_count, "look");
    tell_count(", ", show->segment_count, "segment");
    tell_count(", ", show->preset_count, "preset");
    tell_count(", ", show->playlist_count, "playlist");
    tell_count(", ", show->trigger_count, "trigger");
    if (show->entry_count != 0) {
        printf(", %u %s in the calendar", show->entry_count, show->entry_count == 1 ? "entry" : "entries");
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
        if (segment->look != NULL) {
            printf(", look \"%s\"", segment->look->name);
        }
        putchar('\n');
    }
    drives_tell(show, rig);
    tell_missing(stdout, show);
    size_t bytes = glanz_show_memory(show, rig);
    if (bytes != 0) {
        printf("  effects remember in up to %zu bytes, beside the device's\n", bytes);
    }
}

/* ---- the same for scripts ---- */

static void rig_facts(struct facts *facts, GLANZ_CONST struct glanz_rig *rig) {
    facts_object(facts, "rig");
    facts_text(facts, "name", rig->name);
    facts_number(facts, "frames_per_s", rig->frames_per_s == 0 ? 100 : rig->frames_per_s, 0);
    facts_list(facts, "outputs");
    for (uint8_t o = 0; o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        facts_object(facts, NULL);
        facts_text(facts, "name", output->name);
        facts_number(facts, "pin", output->pin, 0);
        facts_number(facts, "leds", glanz_output_leds(output), 0);
        facts_number(facts, "bytes", (double)glanz_output_bytes(output), 0);
        facts_number(facts, "wire_ms", glanz_output_wire_us(output) / 1000.0, 3);
        facts_text(facts, "chip", output->stretches[0].chip->name);
        facts_text(facts, "supply", rig->supplies[output->supply].name);
        facts_end(facts);
    }
    facts_end(facts);
    facts_list(facts, "surfaces");
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        uint16_t columns = 0;
        uint16_t rows = 0;
        glanz_surface_field(&columns, &rows, &rig->surfaces[s]);
        facts_object(facts, NULL);
        facts_text(facts, "name", rig->surfaces[s].name);
        facts_number(facts, "leds", glanz_surface_leds(&rig->surfaces[s]), 0);
        facts_number(facts, "columns", columns, 0);
        facts_number(facts, "rows", rows, 0);
        facts_end(facts);
    }
    facts_end(facts);
    facts_list(facts, "inputs");
    for (uint8_t i = 0; i < rig->input_count; i++) {
        static const char *const kinds[] = {"button", "value", "sensor", "dial", "knob", "sound"};
        facts_object(facts, NULL);
        facts_text(facts, "name", rig->inputs[i].name);
        facts_text(facts, "kind", kinds[rig->inputs[i].kind]);
        facts_number(facts, "pin", rig->inputs[i].pin, 0);
        facts_end(facts);
    }
    facts_end(facts);
    facts_number(facts, "device_memory", (double)glanz_device_size(rig, 8), 0);
    facts_end(facts);
}

static void show_facts(struct facts *facts, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
    facts_object(facts, "show");
    facts_text(facts, "name", show->name);
    facts_number(facts, "looks", show->look_count, 0);
    facts_number(facts, "presets", show->preset_count, 0);
    facts_number(facts, "playlists", show->playlist_count, 0);
    facts_number(facts, "triggers", show->trigger_count, 0);
    facts_number(facts, "calendar_entries", show->entry_count, 0);
    facts_flag(facts, "resumed", show->resume);
    facts_list(facts, "segments");
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *segment = &show->segments[i];
        struct glanz_field field = {0};
        (void)glanz_region_field(&field, &segment->region, &rig->surfaces[segment->surface]);
        facts_object(facts, NULL);
        facts_text(facts, "name", segment->name);
        facts_text(facts, "surface", rig->surfaces[segment->surface].name);
        facts_number(facts, "first", field.first, 0);
        facts_number(facts, "leds", field.leds, 0);
        facts_text(facts, "look", segment->look == NULL ? NULL : segment->look->name);
        facts_end(facts);
    }
    facts_end(facts);
    facts_number(facts, "effect_memory", (double)glanz_show_memory(show, rig), 0);
    facts_end(facts);
}

static void print_facts(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, const struct advices *advices) {
    struct facts facts;
    facts_open(&facts, stdout);
    rig_facts(&facts, rig);
    if (show != NULL) {
        show_facts(&facts, show, rig);
    }
    advices_facts(advices, &facts);
    facts_end(&facts);
}

static int run_check(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document show;
    static struct advices advices;
    char *patch = NULL;
    int json = 0;
    int code;
    const struct poptOption options[] = {
        {"patch", 'p', POPT_ARG_STRING, &patch, 0, "apply this merge patch to the show first", "FILE"},
        {"json", 'j', POPT_ARG_NONE, &json, 0, "as JSON, for scripts", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_check, argc, argv, options, 1, 2, &code)) {
        return code;
    }
    code = documents_read(&rig, &show, arguments.path[0], arguments.path[1], patch);
    if (code == EXIT_GOOD) {
        advices.count = 0;
        advise_rig(&advices, rig.rig);
        if (show.show != NULL) {
            advise_show(&advices, rig.rig, show.show);
        }
    }
    if (code == EXIT_GOOD && json) {
        print_facts(rig.rig, show.show, &advices);
    } else if (code == EXIT_GOOD) {
        tell_rig(rig.rig);
        if (show.show != NULL) {
            tell_show(show.show, rig.rig);
        }
        advices_print(&advices, stdout);
    }
    document_free(&show);
    document_free(&rig);
    free(patch);
    arguments_free(&arguments);
    return code;
}

const struct command command_check = {"check",      "read a rig and a show, and say what they are or what is wrong",
                                      "RIG [SHOW]", "  glanz check demo/rig.json demo/show.json\n",
                                      run_check,    SEES_STORE};
