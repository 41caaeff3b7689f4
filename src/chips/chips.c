/* SPDX-License-Identifier: MIT */
/* The list of chips, colour orders, and the expansion of one-wire bits into slots. */
#include <glanz/chips.h>

GLANZ_CONST struct glanz_chip *GLANZ_CONST glanz_chips[] = {
    &glanz_chip_ws2812b,    &glanz_chip_sk6812, &glanz_chip_sk6812_rgbw, &glanz_chip_ws2811,
    &glanz_chip_ws2811_400, &glanz_chip_apa102, &glanz_chip_sk9822,      NULL};

GLANZ_CONST struct glanz_chip *glanz_chip_find(const char *name) {
    for (uint8_t i = 0; name != NULL && glanz_chips[i] != NULL; i++) {
        if (glanz_text_equal(glanz_chips[i]->name, name)) {
            return glanz_chips[i];
        }
    }
    return NULL;
}
