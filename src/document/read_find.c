/* SPDX-License-Identifier: MIT */
/* What a show's objects call each other by: names looked up, and words that stand for numbers. */
#include "parts.h"

const char *const glanz_document_events[] = {"pressed",  "pressed once", "pressed twice", "held",
                                             "released", "rises",        "falls",         NULL};

const struct glanz_look *glanz_read_find_look(struct reading *reading, int token) {
    int found = glanz_find_name(&reading->json, token, &reading->looks->name, sizeof *reading->looks, reading->show->look_count,
                                "no such look");
    return reading->json.status == GLANZ_OK ? &reading->looks[found] : NULL;
}

uint8_t glanz_read_find_segment(struct reading *reading, int token) {
    return (uint8_t)glanz_find_name(&reading->json, token, &reading->segments->name, sizeof *reading->segments,
                                    reading->show->segment_count, "no such segment");
}

uint8_t glanz_read_find_preset(struct reading *reading, int token) {
    return (uint8_t)glanz_find_name(&reading->json, token, &reading->presets->name, sizeof *reading->presets,
                                    reading->show->preset_count, "no such preset");
}
