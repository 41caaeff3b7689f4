/* SPDX-License-Identifier: MIT */
/* A strip of 60 LEDs with a comet. What is wired and what it shows is in light.c; this sketch sends the bytes: on an AVR at 16 MHz by a
 * loop, data on pin 8; on any other board by its SPI, data on the SPI's output (MOSI), the clock left open. */
#include "light.h"

#ifndef __AVR__
#include <SPI.h>

static struct glanz_slots slots; /* a bit of the LEDs as some bits of the SPI */
static uint8_t expanded[4 * 3 * LIGHT_LEDS];
#endif

static struct glanz_sending_timer timer;

static glanz_status start(void *, const struct glanz_sending *list, uint8_t count) {
#ifdef __AVR__
    glanz_avr_send(list, count);
#else
    glanz_spi_expand(expanded, &slots, list[0].bytes, list[0].count);
    SPI.beginTransaction(SPISettings(1000000000u / slots.slot_ns, MSBFIRST, SPI_MODE0));
    SPI.transfer(expanded, glanz_spi_size(&slots, list[0].count));
    SPI.endTransaction();
#endif
    glanz_sending_begin(&timer, list, count, micros());
    glanz_sending_end(&timer, micros()); /* both loops end with the last byte: what is left is the chips' rest */
    return GLANZ_OK;
}

static int busy(void *) {
    return glanz_sending_runs(&timer, micros());
}

static uint32_t time_us(void *) {
    return micros();
}

static const struct glanz_port port = {2, NULL, start, busy, NULL, NULL, time_us};

void setup() {
    Serial.begin(115200);
#ifndef __AVR__
    SPI.begin();
    (void)light_slots(&slots);
#endif
    const char *wrong = light_begin(&port);
    if (wrong != NULL) {
        Serial.println(wrong);
        for (;;) {
        }
    }
}

void loop() {
    static uint32_t next;
    if ((int32_t)(micros() - next) >= 0) {
        next = micros() + 10000; /* a hundred times a second */
        light_frame(micros());
    }
}
