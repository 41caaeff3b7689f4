/* SPDX-License-Identifier: MIT */
/* Advice on a rig and a show: too slow, too dark, too hot, too small, never seen, not as meant. */
#include "advice.h"

#include <stdarg.h>
#include <stdlib.h>
#include <string.h>

#include "forecast.h"

void advise(struct advices *advices, const char *kind, const char *list, const char *name, const char *format, ...) {
    struct advice *advice = &advices->list[advices->count];
    va_list arguments;
    if (advices->count++ >= (int)(sizeof advices->list / sizeof advices->list[0])) {
        return;
    }
    advice->kind = kind;
    size_t at = (size_t)snprintf(advice->where, sizeof advice->where, "/%s/", list);
    for (; name != NULL && *name != '\0' && at + 3 < sizeof advice->where; name++) { /* RFC 6901 */
        if (*name == '~' || *name == '/') {
            advice->where[at++] = '~';
        }
        advice->where[at++] = *name == '~' ? '0' : *name == '/' ? '1' : *name;
    }
    advice->where[at] = '\0';
    va_start(arguments, format);
    vsnprintf(advice->text, sizeof advice->text, format, arguments);
    va_end(arguments);
}

static int told(const struct advices *advices) {
    int most = (int)(sizeof advices->list / sizeof advices->list[0]);
    return advices->count < most ? advices->count : most;
}

void advices_print(const struct advices *advices, FILE *to) {
    for (int i = 0; i < told(advices); i++) {
        fprintf(to, "  warning, %s: %s\n", advices->list[i].kind, advices->list[i].text);
    }
    if (advices->count > told(advices)) {
        fprintf(to, "  and %d more\n", advices->count - told(advices));
    }
}

void advices_facts(const struct advices *advices, struct facts *facts) {
    facts_list(facts, "advice");
    for (int i = 0; i < told(advices); i++) {
        facts_object(facts, NULL);
        facts_text(facts, "kind", advices->list[i].kind);
        facts_text(facts, "where", advices->list[i].where);
        facts_text(facts, "text", advices->list[i].text);
        facts_end(facts);
    }
    facts_end(facts);
}

/* ---- the rig ---- */

static void advise_output(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_output *output) {
    uint32_t frames = rig->frames_per_s == 0 ? 100 : rig->frames_per_s;
    uint32_t wire_us = glanz_output_wire_us(output);
    uint32_t led_ns = glanz_chip_led_ns(output->stretches[0].chip);
    uint32_t fixed_us = wire_us - (uint32_t)((uint64_t)glanz_output_leds(output) * led_ns / 1000u);
    uint32_t fit = fixed_us >= 1000000u / frames ? 0 : (uint32_t)((uint64_t)(1000000u / frames - fixed_us) * 1000u / led_ns);
    if (wire_us > 1000000u / frames && fit == 0) {
        advise(advices, "too slow", "outputs", output->name,
               "output \"%s\": not one LED can be sent %u times a second; ask for fewer frames", output->name, frames);
    } else if (wire_us > 1000000u / frames) {
        uint32_t leds = glanz_output_leds(output);
        uint32_t lines = (leds + fit - 1) / fit;
        advise(advices, "too slow", "outputs", output->name,
               "output \"%s\": the wire is too slow for %u frames/s: divide the line over %u outputs of at most %u LEDs, or "
               "ask for "
               "%u frames/s",
               output->name, frames, lines, (leds + lines - 1) / lines, 1000000u / wire_us);
    }
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        GLANZ_CONST struct glanz_chip *chip = output->stretches[i].chip;
        if (chip->millivolts != rig->supplies[output->supply].millivolts) {
            advise(advices, chip->millivolts > rig->supplies[output->supply].millivolts ? "too dark" : "too hot", "outputs",
                   output->name, "output \"%s\": %s is made for %.0f V; supply \"%s\" gives %.0f V", output->name, chip->name,
                   chip->millivolts / 1000.0, rig->supplies[output->supply].name,
                   rig->supplies[output->supply].millivolts / 1000.0);
        }
    }
}

#define UNLIMITED_MA 500 /* what any USB port gives */

static void advise_supply(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, uint8_t s) {
    GLANZ_CONST struct glanz_supply *supply = &rig->supplies[s];
    double idle = 0;
    double full = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        if (rig->outputs[o].supply == s) {
            idle += glanz_output_ua(&rig->outputs[o], 0) / 1000.0;
            full += glanz_output_ua(&rig->outputs[o], 15) / 1000.0;
        }
    }
    double step = (full - idle) / 255;
    if (supply->limit_ma == 0 && full > UNLIMITED_MA) {
        advise(advices, "too hot", "supplies", supply->name,
               "supply \"%s\" has no limit, and all its LEDs fully on draw %.1f A: write its \"limit\", what it can give for "
               "good, and it "
               "is never exceeded",
               supply->name, full / 1000);
    }
    if (supply->limit_ma != 0 && supply->limit_ma - idle < step) {
        advise(advices, "too dark", "supplies", supply->name,
               "the limit of supply \"%s\" leaves %.1f mA above the %.0f mA that its dark LEDs draw; one chip step of all its "
               "LEDs "
               "draws %.1f mA, so that they cannot all be lit: raise the limit, or light fewer",
               supply->name, supply->limit_ma - idle, idle, step);
    }
}

/* LEDs on a line that no surface has. */
static void advise_unused(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, uint8_t o) {
    uint16_t leds = glanz_output_leds(&rig->outputs[o]);
    uint8_t *taken = (uint8_t *)calloc(leds == 0 ? 1 : leds, 1);
    unsigned left = 0;
    unsigned first = 0;
    for (uint8_t s = 0; taken != NULL && s < rig->surface_count; s++) {
        for (uint8_t p = 0; p < rig->surfaces[s].piece_count; p++) {
            GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[p];
            for (uint16_t i = 0; piece->output == o && i < piece->leds && piece->first + i < leds; i++) {
                taken[piece->first + i] = 1;
            }
        }
    }
    for (unsigned i = leds; taken != NULL && i-- > 0;) {
        left += !taken[i];
        first = taken[i] ? first : i;
    }
    free(taken);
    if (left != 0) {
        advise(advices, "never seen", "outputs", rig->outputs[o].name,
               "output \"%s\": %u of its LEDs, the first of them number %u, are on no surface, and stay dark; add them to one",
               rig->outputs[o].name, left, first);
    }
}

void advise_rig(struct advices *advices, GLANZ_CONST struct glanz_rig *rig) {
    for (uint8_t o = 0; o < rig->output_count; o++) {
        advise_output(advices, rig, &rig->outputs[o]);
        advise_unused(advices, rig, o);
    }
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        advise_supply(advices, rig, s);
    }
}

/* ---- the show ---- */

/* A look on a segment: does its effect look right on so small a field? */
static void advise_size(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_segment *segment,
                        GLANZ_CONST struct glanz_look *look) {
    struct glanz_field field;
    if (look == NULL || !glanz_region_field(&field, &segment->region, &rig->surfaces[segment->surface])) {
        return;
    }
    GLANZ_CONST struct glanz_effect *effect = look->effect;
    uint16_t most = field.columns > field.rows ? field.columns : field.rows;
    if (field.rows == 1 ? most < effect->least_rows
                        : field.columns < effect->least_columns || field.rows < effect->least_rows) {
        advise(advices, "too small", "segments", segment->name,
               "segment \"%s\" has %u x %u LEDs; \"%s\" (look \"%s\") wants %u x %u, or a line of %u, and more", segment->name,
               field.columns, field.rows, effect->name, look->name, effect->least_columns, effect->least_rows,
               effect->least_rows);
    } else if (effect->memory != NULL && look->content == NULL && glanz_look_memory(segment, look, rig) == 0) {
        advise(advices, "not as meant", "segments", segment->name,
               "segment \"%s\" has %u LEDs: too many for \"%s\" (look \"%s\") to remember; only its background is shown",
               segment->name, field.leds, effect->name, look->name);
    } else if (effect->shade_field == NULL && field.length == 1) {
        advise(advices, "too small", "segments", segment->name,
               "segment \"%s\" has one column only for look \"%s\" to move in; see \"lies\" and \"turned\"", segment->name,
               look->name);
    }
}

/* A look that lives on sound: is there any for it? */
static void advise_hearing(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_look *look) {
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
            advise(advices, "never seen", "looks", look->name, "look \"%s\" hears what is no input for sound; it stays dark",
                   look->name);
            return;
        }
    }
    if (sources == 0) {
        advise(advices, "never seen", "looks", look->name,
               "look \"%s\" lives on sound, and the rig has no input for it; it stays dark: add one of the kind \"sound\"",
               look->name);
    }
}

/* How bright a look can be where it shows, linear, 1 fully on. */
static double share_of_full(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_look *look, uint16_t brightness) {
    double share = glanz_lightness(show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness) / 65536.0;
    share *= brightness == 0 ? 1 : glanz_lightness(brightness) / 65536.0;
    return share * (look->brightness == 0 ? 1 : glanz_lightness(look->brightness) / 65536.0);
}

/* What shows after a preset, or at the start. */
static void advise_light(struct advices *advices, GLANZ_CONST struct glanz_show *show, uint8_t preset) {
    for (uint8_t i = 0; i < show->segment_count; i++) {
        uint8_t on;
        uint16_t brightness;
        GLANZ_CONST struct glanz_look *look = forecast_look_of(show, preset, i, &on, &brightness);
        double share = look == NULL || !on ? 1 : share_of_full(show, look, brightness);
        if (share < 1 / 255.0 &&
            (preset == 255 || look != show->segments[i].look || brightness != show->segments[i].brightness)) {
            advise(advices, "too dark", "segments", show->segments[i].name,
                   "look \"%s\" on segment \"%s\"%s%s%s is at most %.2f %% of full light, less than one step of a chip with 8 "
                   "bits: raise the "
                   "brightness of the show, the segment or the look",
                   look->name, show->segments[i].name, preset == 255 ? "" : " (preset \"",
                   preset == 255 ? "" : show->presets[preset].name, preset == 255 ? "" : "\")", share * 100);
        }
    }
}

static int is_shown(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_look *look) {
    for (uint8_t i = 0; i < show->segment_count; i++) {
        if (show->segments[i].look == look) {
            return 1;
        }
    }
    for (uint8_t i = 0; i < show->preset_count; i++) {
        for (uint8_t p = 0; p < show->presets[i].part_count; p++) {
            if (show->presets[i].parts[p].look == look) {
                return 1;
            }
        }
    }
    for (uint8_t i = 0; i < show->trigger_count; i++) {
        for (uint8_t a = 0; a < show->triggers[i].action_count; a++) {
            if (show->triggers[i].actions[a].look == look || show->triggers[i].actions[a].kind == &glanz_action_another_look) {
                return 1;
            }
        }
    }
    return 0;
}

/* Looks that nothing shows, segments behind others whatever is shown, LEDs that no segment takes. */
static void advise_unseen(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    for (uint16_t i = 0; i < show->look_count; i++) {
        if (!is_shown(show, &show->looks[i])) {
            advise(advices, "never seen", "looks", show->looks[i].name,
                   "look \"%s\" is in no segment, preset or action: name it in one, or take it out", show->looks[i].name);
        }
    }
    for (uint8_t position = 0; position < show->segment_count; position++) {
        int hidden = forecast_hidden(show, 255, rig, position);
        for (uint8_t p = 0; p < show->preset_count && hidden; p++) {
            hidden = forecast_hidden(show, p, rig, position);
        }
        if (hidden) {
            GLANZ_CONST struct glanz_segment *segment = &show->segments[show->stack == NULL ? position : show->stack[position]];
            advise(advices, "never seen", "segments", segment->name,
                   "segment \"%s\" is always covered by one above it: change their order in \"stack\", or the blend of the one "
                   "above",
                   segment->name);
        }
    }
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        uint32_t leds = glanz_surface_leds(&rig->surfaces[s]);
        uint32_t begin = leds;
        uint32_t end = 0;
        int simple = 1;
        for (uint8_t i = 0; i < show->segment_count; i++) {
            GLANZ_CONST struct glanz_region *region = &show->segments[i].region;
            uint32_t last = region->leds == 0 ? leds : (uint32_t)region->first + region->leds;
            if (show->segments[i].surface == s) {
                simple = simple && region->piece == 0 && region->columns == 0 && region->pick_count == 0;
                begin = region->first < begin ? region->first : begin;
                end = last > end ? last : end;
            }
        }
        if (simple && end == 0) {
            advise(advices, "never seen", "segments", "", "surface \"%s\" of the rig has no segment; its %u LEDs stay dark",
                   rig->surfaces[s].name, leds);
        } else if (simple && (begin != 0 || end < leds)) {
            advise(advices, "never seen", "segments", "",
                   "surface \"%s\": its LEDs %s%u to %u are in no segment, and stay dark", rig->surfaces[s].name,
                   begin != 0 && end < leds ? "before the first segment and " : "", begin != 0 && end >= leds ? 0 : end,
                   begin != 0 && end >= leds ? begin - 1 : leds - 1);
        }
    }
}

/* Masks that have nothing to decide, or whose look does not tell what it covers. */
static void advise_masks(struct advices *advices, GLANZ_CONST struct glanz_show *show) {
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *mask = &show->segments[show->stack == NULL ? i : show->stack[i]];
        GLANZ_CONST struct glanz_segment *below =
            i == 0 ? NULL : &show->segments[show->stack == NULL ? i - 1 : show->stack[i - 1]];
        if (mask->blend < GLANZ_BLENDS) {
            continue;
        }
        if (below == NULL || below->surface != mask->surface) {
            advise(advices, "not as meant", "segments", mask->name,
                   "no segment of its surface lies right below the mask \"%s\" in the stack; it has nothing to decide",
                   mask->name);
        } else if (mask->blend >= GLANZ_BLEND_MASK_BY_COVERAGE && mask->look != NULL &&
                   (mask->look->effect->needs & GLANZ_NEEDS_COVER) == 0) {
            advise(advices, "not as meant", "segments", mask->name,
                   "look \"%s\" of the mask \"%s\" covers all of it; expected one that lets light through, or a mask by "
                   "brightness",
                   mask->look->name, mask->name);
        }
    }
}

/* A start that shows what may not be there yet. */
static void advise_start(struct advices *advices, GLANZ_CONST struct glanz_show *show) {
    int there = show->start == NULL || show->start->kind->value != GLANZ_VALUE_SAVED;
    for (uint8_t i = 0; i < show->preset_count && !there; i++) {
        there = strcmp(show->presets[i].name, show->start->param) == 0;
    }
    if (!there) {
        advise(advices, "not as meant", "start", "",
               "until a preset is saved as \"%s\" nothing is done at power-on; a preset of the show of that name would come "
               "instead",
               show->start->param);
    }
}

void advise_show(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    advise_start(advices, show);
    advise_masks(advices, show);
    for (uint8_t i = 0; i < show->segment_count; i++) {
        advise_size(advices, rig, &show->segments[i], show->segments[i].look);
    }
    for (uint8_t i = 0; i < show->preset_count; i++) {
        for (uint8_t p = 0; p < show->presets[i].part_count; p++) {
            GLANZ_CONST struct glanz_part *part = &show->presets[i].parts[p];
            advise_size(advices, rig, &show->segments[part->segment], part->look);
        }
    }
    for (uint16_t i = 0; i < show->look_count; i++) {
        advise_hearing(advices, rig, &show->looks[i]);
    }
    advise_light(advices, show, 255);
    for (uint8_t i = 0; i < show->preset_count; i++) {
        advise_light(advices, show, i);
    }
    advise_unseen(advices, rig, show);
}
