/* SPDX-License-Identifier: MIT */
/* forecast: how much flash and RAM a rig and a show take. */
#include <string.h>

#include "forecast.h"

#include "costs.h"

unsigned forecast_flash_of(const char *name) {
    for (size_t i = 0; i < COUNT(flash_costs); i++) {
        if (strcmp(flash_costs[i].name, name) == 0) {
            return flash_costs[i].bytes;
        }
    }
    return 0;
}

int forecast_hears(GLANZ_CONST struct glanz_show *show, uint8_t input, uint8_t least, uint8_t most) {
    for (uint8_t i = 0; i < show->signal_count; i++) {
        GLANZ_CONST struct glanz_signal *signal = &show->signals[i];
        if (signal->kind == GLANZ_SIGNAL_SOUND && signal->first == input && signal->form >= least && signal->form <= most) {
            return 1;
        }
    }
    return 0;
}

unsigned forecast_flash(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    unsigned bytes = COST_FLASH;
    int clocked = 0;
    int one_wire = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        clocked |= rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED;
        one_wire |= rig->outputs[o].stretches[0].chip->protocol != GLANZ_CLOCKED;
    }
    bytes += (clocked ? forecast_flash_of("clocked") : 0) + (one_wire ? forecast_flash_of("one-wire") : 0);
    for (int e = 0; e < COST_EFFECTS; e++) {
        for (uint16_t i = 0; i < show->look_count; i++) {
            if (strcmp(show->looks[i].effect->name, all_costs[0].effect[e].name) == 0) {
                bytes += forecast_flash_of(show->looks[i].effect->name);
                break;
            }
        }
    }
    unsigned needed = glanz_parts_needed(rig, show) | (show->resume ? GLANZ_PARTS_OF_SAVING : 0u);
    for (unsigned bit = 1; bit <= needed; bit <<= 1) {
        bytes += (needed & bit) != 0 ? forecast_flash_of(glanz_part_name(bit)) : 0; /* the limit is in whatever there is */
    }
    bytes += (needed & GLANZ_PART_CONTROL) != 0 ? forecast_flash_of("glides") : 0;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        if (rig->inputs[i].kind == GLANZ_INPUT_SOUND) {
            bytes += forecast_hears(show, i, GLANZ_HEARS_BEAT, GLANZ_HEARS_TRUST) ? forecast_flash_of("tempo") : 0;
            bytes += forecast_hears(show, i, GLANZ_HEARS_PITCH, GLANZ_HEARS_NOTE) ? forecast_flash_of("pitch") : 0;
        }
    }
    return bytes + (show->entry_count != 0 ? forecast_flash_of("calendar") : 0);
}

unsigned forecast_ram(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, unsigned *led_bytes) {
    *led_bytes = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        int clocked = rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED;
        uint32_t buffers = clocked || rig->outputs[o].buffers == 2 ? 2 : 1;
        *led_bytes += glanz_output_bytes(&rig->outputs[o]) * buffers;
        for (uint8_t i = 0; i < rig->outputs[o].stretch_count; i++) {
            *led_bytes += (unsigned)rig->outputs[o].stretches[i].leds * rig->outputs[o].stretches[i].chip->channels;
        }
    }
    return COST_RAM + COST_RAM_SEGMENT * (unsigned)(show->segment_count == 0 ? 1 : show->segment_count) +
           COST_RAM_OUTPUT * (unsigned)rig->output_count + COST_RAM_INPUT * (unsigned)rig->input_count + *led_bytes +
           (unsigned)glanz_show_memory(show, rig);
}
