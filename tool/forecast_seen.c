/* SPDX-License-Identifier: MIT */
/* What is seen of a show: which look a segment shows, which LEDs it lies over, what lies behind another. */
#include "forecast.h"

struct cover forecast_cover_of(GLANZ_CONST struct glanz_segment *segment, GLANZ_CONST struct glanz_rig *rig) {
    struct glanz_field field = {0};
    struct cover cover;
    (void)glanz_region_field(&field, &segment->region, &rig->surfaces[segment->surface]);
    cover.over = field.leds;
    uint32_t take = 0;
    uint32_t period = 0;
    for (int i = 0; i < GLANZ_STENCIL && segment->region.stencil[i] != 0; i++) {
        period += segment->region.stencil[i];
        take += i % 2 == 0 ? segment->region.stencil[i] : 0;
    }
    cover.lit = period == 0 ? cover.over : cover.over * take / period;
    cover.lit = field.picked != 0 ? field.picked : cover.lit;
    if (segment->region.columns != 0 && cover.lit > (uint32_t)segment->region.columns * segment->region.rows) {
        cover.lit = (uint32_t)segment->region.columns * segment->region.rows;
    }
    return cover;
}

/* What a segment shows with a preset: the preset's look, or its own. */
GLANZ_CONST struct glanz_look *forecast_look_of(GLANZ_CONST struct glanz_show *show, uint8_t preset, uint8_t segment,
                                                uint8_t *on, uint16_t *brightness) {
    GLANZ_CONST struct glanz_look *look = show->segments[segment].look;
    *on = !show->segments[segment].off;
    *brightness = show->segments[segment].brightness;
    for (uint8_t i = 0; preset != 255 && i < show->presets[preset].part_count; i++) {
        GLANZ_CONST struct glanz_part *part = &show->presets[preset].parts[i];
        if (part->segment == segment) {
            look = (part->aspects & GLANZ_ASPECT_LOOK) != 0 ? part->look : look;
            *on = (part->aspects & GLANZ_ASPECT_ON) != 0 ? part->on : *on;
            *brightness = (part->aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 ? part->brightness : *brightness;
        }
    }
    return look;
}

int forecast_hidden(GLANZ_CONST struct glanz_show *show, uint8_t preset, GLANZ_CONST struct glanz_rig *rig, uint8_t position) {
    uint8_t index = show->stack == NULL ? position : show->stack[position];
    GLANZ_CONST struct glanz_segment *segment = &show->segments[index];
    uint32_t end = segment->region.first + forecast_cover_of(segment, rig).over;
    for (uint8_t above = (uint8_t)(position + 1); above < show->segment_count; above++) {
        uint8_t other = show->stack == NULL ? above : show->stack[above];
        GLANZ_CONST struct glanz_segment *over = &show->segments[other];
        uint8_t on;
        uint16_t brightness;
        GLANZ_CONST struct glanz_look *look = forecast_look_of(show, preset, other, &on, &brightness);
        int sheer = (look != NULL && (look->effect->needs & GLANZ_NEEDS_COVER) != 0) || over->region.columns != 0;
        if (on && !sheer && over->surface == segment->surface && over->blend == GLANZ_BLEND_COVER &&
            (over->opacity == 0 || over->opacity == 65535) && over->region.stencil[0] == 0 &&
            over->region.first <= segment->region.first && over->region.first + forecast_cover_of(over, rig).over >= end) {
            return 1;
        }
    }
    return 0;
}
