/* SPDX-License-Identifier: MIT */
/* ATmega328P at 16 MHz: WS2812B by a timed loop on port B, a button on INT0 (pin PD2), timer 1 as the clock, UART 0.
 * The pin of an output in the rig is the bit of port B. Sending stops the CPU for 30 us a LED, with interrupts off; a timer
 * overflow or an edge of the button that comes meanwhile waits until after it and is not lost. */
#include <avr/interrupt.h>
#include <avr/io.h>

#include <glanz/avr.h>

#include "avr.h"
#include "board.h"

#define RESET_US 300u

static volatile uint32_t overflows; /* of timer 1: 65,536 cycles each, 4,096 us */
static struct glanz_device *pushed_to;
static uint32_t sent_us;
static uint8_t rests;

ISR(TIMER1_OVF_vect) {
    overflows++;
}

static uint32_t ticks(uint16_t *low) { /* overflows and the counter, as of one moment */
    uint8_t flags = SREG;
    cli();
    uint16_t count = TCNT1;
    uint32_t high = overflows;
    if ((TIFR1 & (1u << TOV1)) != 0 && count < 0x8000u) {
        high++; /* it has wrapped just now, and the interrupt is still to come */
    }
    SREG = flags;
    *low = count;
    return high;
}

uint32_t board_us(void) {
    uint16_t low;
    uint32_t high = ticks(&low);
    return (high << 12) + (low >> 4);
}

uint32_t board_count(void) {
    uint16_t low;
    uint32_t high = ticks(&low);
    return (high << 16) + low;
}

ISR(INT0_vect) {
    glanz_device_push(pushed_to, 0, (PIND >> PD2) & 1u, board_us());
}

void board_button(struct glanz_device *device) {
    pushed_to = device;
    PORTD |= 1u << PD2;           /* pulled up: pressed is low */
    EICRA = (EICRA & 0xFCu) | 1u; /* any edge */
    EIMSK = 1u;
}

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    glanz_avr_send(list, count);
    sent_us = board_us();
    rests = 1;
    return GLANZ_OK;
}

static int busy(void *user) { /* the loop is over when start returns; what is left is the chips' reset */
    (void)user;
    if (rests && board_us() - sent_us >= RESET_US) {
        rests = 0; /* and stays so, however often the clock wraps */
    }
    return rests;
}

static uint32_t time_us(void *user) {
    (void)user;
    return board_us();
}

const struct glanz_port board_port = {2, NULL, start, busy, NULL, NULL, time_us};

/* ---- for tests and measurements ---- */

void board_put(char c) {
    while ((UCSR0A & (1u << UDRE0)) == 0) {
    }
    UDR0 = (uint8_t)c;
}

/* The stack grows down from the end of RAM to what the program has; the emulator tells its deepest. */
void board_stack_mark(void) {
}

uint32_t board_stack_used(void) {
    return 0;
}

int main(void) {
    UCSR0B = 1u << TXEN0;
    TIMSK1 = 1u << TOIE1;
    TCCR1B = 1u << CS10;
    sei();
    int code = board_main();
    GPIOR0 = (uint8_t)(0x40u | code); /* bit 6: the end, for the emulator */
    for (;;) {
    }
}
