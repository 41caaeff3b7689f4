/* SPDX-License-Identifier: MIT */
/* What a rig is made of, and what cannot be. */
#include <glanz/calendar.h>
#include <glanz/engine.h>

#include "current.h"
#include "state.h"

uint16_t glanz_output_leds(GLANZ_CONST struct glanz_output *output) {
    uint32_t leds = 0;
    for (uint8_t i = 0; output != NULL && i < output->stretch_count; i++) {
        leds += output->stretches[i].leds;
    }
    return (uint16_t)(leds > 65535u ? 65535u : leds);
}

uint32_t glanz_output_bytes(GLANZ_CONST struct glanz_output *output) {
    if (output == NULL || output->stretch_count == 0) {
        return 0;
    }
    GLANZ_CONST struct glanz_chip *chip = output->stretches[0].chip;
    uint32_t bytes = chip->head_bytes;
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        bytes += (uint32_t)output->stretches[i].chip->led_bytes * output->stretches[i].leds;
    }
    return chip->tail_bytes == NULL ? bytes : bytes + chip->tail_bytes(glanz_output_leds(output));
}

/* The window of times that every chip of a one-wire output allows. */
glanz_status glanz_output_window(struct glanz_timing *least, struct glanz_timing *most, GLANZ_CONST struct glanz_output *output,
                                 uint8_t count) {
    struct glanz_timing none = {0, 0, 0, 0};
    struct glanz_timing all = {65535, 65535, 65535, 65535};
    *least = none;
    *most = all;
    glanz_status status = output->stretches[0].chip->protocol == GLANZ_ONE_WIRE ? GLANZ_OK : GLANZ_ERR_ABSENT;
    for (uint8_t i = 0; i < count && status == GLANZ_OK; i++) {
        status = glanz_timing_narrow(least, most, output->stretches[i].chip);
    }
    return status;
}

#define GRID_NS 50u /* times are multiples of it */

static uint16_t middle_of(uint32_t least, uint32_t most) {
    uint32_t middle = (least + most + GRID_NS) / (2u * GRID_NS) * GRID_NS;
    return (uint16_t)(middle < least || middle > most ? (least + most) / 2u : middle);
}

glanz_status glanz_output_timing(GLANZ_CONST struct glanz_output *output, struct glanz_timing *timing) {
    struct glanz_timing least;
    struct glanz_timing most;
    if (timing == NULL || output == NULL || output->stretch_count == 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_output_window(&least, &most, output, output->stretch_count);
    timing->zero_high = middle_of(least.zero_high, most.zero_high);
    timing->zero_low = middle_of(least.zero_low, most.zero_low);
    timing->one_high = middle_of(least.one_high, most.one_high);
    timing->one_low = middle_of(least.one_low, most.one_low);
    /* some data sheets have a 1 half high or less: as far beyond as they allow, but for 25 ns, and no more than 7 to 5 */
    while (timing->one_high * 5u < timing->one_low * 7u && timing->one_low >= least.one_low + 25u + GRID_NS) {
        timing->one_low = (uint16_t)(timing->one_low - GRID_NS);
        if (timing->one_high + 25u + GRID_NS <= most.one_high) {
            timing->one_high = (uint16_t)(timing->one_high + GRID_NS);
        }
    }
    return status;
}

glanz_status glanz_output_slots(GLANZ_CONST struct glanz_output *output, uint8_t count, struct glanz_slots *slots) {
    struct glanz_timing least;
    struct glanz_timing most;
    if (slots == NULL || output == NULL || output->stretch_count == 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_output_window(&least, &most, output, output->stretch_count);
    return status != GLANZ_OK ? status : glanz_slots_fit(slots, &least, &most, count);
}

uint32_t glanz_output_wire_us(GLANZ_CONST struct glanz_output *output) {
    if (output == NULL || output->stretch_count == 0) {
        return 0;
    }
    struct glanz_timing timing;
    uint32_t bit_ns = (uint32_t)output->stretches[0].chip->one_high_ns + output->stretches[0].chip->one_low_ns;
    if (glanz_output_timing(output, &timing) == GLANZ_OK) {
        uint32_t zero_ns = (uint32_t)timing.zero_high + timing.zero_low;
        bit_ns = (uint32_t)timing.one_high + timing.one_low;
        bit_ns = zero_ns > bit_ns ? zero_ns : bit_ns;
    }
    uint16_t reset = 0;
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        reset = output->stretches[i].chip->reset_us > reset ? output->stretches[i].chip->reset_us : reset;
    }
    return (uint32_t)(((uint64_t)glanz_output_bytes(output) * 8u * bit_ns + 999u) / 1000u) + reset;
}

uint32_t glanz_stretch_channel_ua(GLANZ_CONST struct glanz_stretch *stretch, uint8_t channel) {
    uint16_t own =
        (uint16_t)(stretch->channel_ua[0] | stretch->channel_ua[1] | stretch->channel_ua[2] | stretch->channel_ua[3]);
    uint32_t ua = own != 0 ? stretch->channel_ua[channel] : stretch->chip->channel_ua[channel];
    return ua * (stretch->parallel == 0 ? 1u : stretch->parallel);
}

/* A current times LEDs, at most 2^32 - 1. */
static uint32_t of_leds(uint32_t ua, uint16_t leds) {
    return glanz_times(ua, (uint32_t)leds << 16);
}

uint32_t glanz_stretch_idle_ua(GLANZ_CONST struct glanz_stretch *stretch) {
    uint32_t ua = stretch->idle_ua != 0 ? stretch->idle_ua : stretch->chip->idle_ua;
    return of_leds(ua * (stretch->parallel == 0 ? 1u : stretch->parallel), stretch->leds);
}

uint32_t glanz_output_ua(GLANZ_CONST struct glanz_output *output, uint8_t channels) {
    uint32_t ua = 0;
    for (uint8_t i = 0; output != NULL && i < output->stretch_count; i++) {
        GLANZ_CONST struct glanz_stretch *stretch = &output->stretches[i];
        ua = glanz_plus(ua, glanz_stretch_idle_ua(stretch));
        for (uint8_t c = 0; c < stretch->chip->channels; c++) {
            if ((channels & (1u << c)) != 0) {
                ua = glanz_plus(ua, of_leds(glanz_stretch_channel_ua(stretch, c), stretch->leds));
            }
        }
    }
    return ua;
}

static int surface_uses(GLANZ_CONST struct glanz_surface *surface, const void *memory, size_t size) {
    int uses = glanz_inside(surface->name, memory, size) ||
               glanz_overlaps(surface->pieces, surface->piece_count, sizeof *surface->pieces, memory, size);
#if GLANZ_FIELDS
    uses = uses || glanz_overlaps(surface->panels, surface->piece_count, sizeof *surface->panels, memory, size) ||
           glanz_overlaps(surface->circles, surface->piece_count, sizeof *surface->circles, memory, size) ||
           glanz_overlaps(surface->points, glanz_surface_leds(surface), sizeof *surface->points, memory, size);
#endif
    return uses;
}

static int input_uses(GLANZ_CONST struct glanz_input *input, const void *memory, size_t size) {
#if GLANZ_DRIVES_MOST > 0
    if (glanz_inside(input->unit, memory, size)) {
        return 1;
    }
#endif
    return glanz_inside(input->name, memory, size);
}

int glanz_rig_uses(GLANZ_CONST struct glanz_rig *rig, const void *memory, size_t size) {
    if (rig == NULL || memory == NULL || size == 0) {
        return 0;
    }
    int uses = glanz_overlaps(rig, 1, sizeof *rig, memory, size) || glanz_inside(rig->name, memory, size) ||
               glanz_overlaps(rig->supplies, rig->supply_count, sizeof *rig->supplies, memory, size) ||
               glanz_overlaps(rig->outputs, rig->output_count, sizeof *rig->outputs, memory, size) ||
               glanz_overlaps(rig->surfaces, rig->surface_count, sizeof *rig->surfaces, memory, size) ||
               glanz_overlaps(rig->inputs, rig->input_count, sizeof *rig->inputs, memory, size);
#if GLANZ_CALENDAR
    uses = uses || glanz_inside(rig->zone, memory, size);
#endif
    for (uint8_t i = 0; i < rig->supply_count && !uses; i++) {
        uses = glanz_inside(rig->supplies[i].name, memory, size);
    }
    for (uint8_t i = 0; i < rig->output_count && !uses; i++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[i];
        uses = glanz_inside(output->name, memory, size) ||
               glanz_overlaps(output->stretches, output->stretch_count, sizeof *output->stretches, memory, size);
        for (uint8_t k = 0; k < output->stretch_count && !uses; k++) {
            uses = glanz_inside(output->stretches[k].chip, memory, size);
        }
    }
    for (uint8_t i = 0; i < rig->surface_count && !uses; i++) {
        uses = surface_uses(&rig->surfaces[i], memory, size);
    }
    for (uint8_t i = 0; i < rig->input_count && !uses; i++) {
        uses = input_uses(&rig->inputs[i], memory, size);
    }
    return uses;
}
