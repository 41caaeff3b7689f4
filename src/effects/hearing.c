/* SPDX-License-Identifier: MIT */
/* What effects that live on sound are shown. */
#include <glanz/effects.h>
#include <glanz/signals.h>

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

/* Of looks that name no palette: sea green, amber, coral; straight in light. */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {199, 13907, 15624}, 143165u}, {30000, {52886, 28441, 4522}, 120866u}, {65535, {65535, 6690, 2951}, 0u}};
GLANZ_CONST struct glanz_gradient glanz_gradient_heard = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1}};

const struct glanz_heard *glanz_frame_heard(const struct glanz_frame *frame, uint8_t param) {
    const struct glanz_world *world = frame->world;
    uint32_t named = (uint32_t)frame->number[param];
    if (world == NULL || world->heard == NULL || named > world->values) {
        return NULL;
    }
    for (uint8_t i = named == 0 ? 0 : (uint8_t)(named - 1u); i < world->values; i++) {
        if (named != 0 || world->heard[i] != NULL) {
            return world->heard[i];
        }
    }
    return NULL;
}

#endif
