/* SPDX-License-Identifier: MIT */
/* How long a sending lasts, for ports that are not told by their hardware. */
#include <glanz/device.h>

void glanz_sending_begin(struct glanz_sending_timer *timer, const struct glanz_sending *list, uint8_t count, uint32_t now_us) {
    if (timer == NULL) {
        return;
    }
    timer->begin_us = now_us;
    timer->bytes_us = 0;
    timer->reset_us = 0;
    timer->runs = 1;
    for (uint8_t i = 0; list != NULL && i < count; i++) {
        GLANZ_CONST struct glanz_chip *chip = list[i].output->stretches[0].chip;
        uint32_t us = 0;
        for (uint8_t s = 0; s < list[i].output->stretch_count; s++) { /* in parts, so that no product is too large */
            GLANZ_CONST struct glanz_stretch *stretch = &list[i].output->stretches[s];
            uint32_t led_ns = chip->protocol == GLANZ_CLOCKED ? stretch->chip->led_bytes * 8u * 2u * stretch->chip->zero_high_ns
                                                              : glanz_chip_led_ns(stretch->chip);
            us += (led_ns * (stretch->leds & 1023u) + 999u) / 1000u +
                  (led_ns * 128u / 125u + 1u) * (uint32_t)(stretch->leds >> 10);
            timer->reset_us = stretch->chip->reset_us > timer->reset_us ? stretch->chip->reset_us : timer->reset_us;
        }
        if (chip->protocol == GLANZ_CLOCKED) { /* what comes before and behind the LEDs */
            uint32_t beside =
                chip->head_bytes + (chip->tail_bytes == NULL ? 0u : chip->tail_bytes(glanz_output_leds(list[i].output)));
            us += (uint32_t)beside * 8u * 2u * chip->zero_high_ns / 1000u + 1u;
        }
        timer->bytes_us = us > timer->bytes_us ? us : timer->bytes_us;
    }
}

void glanz_sending_end(struct glanz_sending_timer *timer, uint32_t now_us) {
    if (timer != NULL && timer->runs == 1) {
        timer->begin_us = now_us;
        timer->runs = 2;
    }
}

int glanz_sending_runs(struct glanz_sending_timer *timer, uint32_t now_us) {
    if (timer == NULL || timer->runs == 0) {
        return 0;
    }
    uint32_t lasts_us = timer->runs == 1 ? timer->bytes_us + timer->reset_us : timer->reset_us;
    if (now_us - timer->begin_us >= lasts_us + 1u) { /* the clock may have been about to step */
        timer->runs = 0;
    }
    return timer->runs != 0;
}
