/* SPDX-License-Identifier: MIT */
/* ATmega328P at 16 MHz: WS2812B by a timed loop on port B, a button on INT0 (pin PD2), timer 1 as the clock, UART 0.
 * The pin of an output in the rig is the bit of port B. Sending stops the CPU for 30 us a LED, with interrupts off; a timer
 * overflow or an edge of the button that comes meanwhile waits until after it and is not lost. */
#include <avr/interrupt.h>
#include <avr/io.h>

#include "avr.h"
#include "board.h"

#define RESET_US 300u

static volatile uint32_t overflows; /* of timer 1: 65,536 cycles each, 4,096 us */
static struct glanz_device *pushed_to;
static uint32_t sent_us;

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

/* The bits of `count` bytes, 20 cycles each: a 0 is high for 6 (375 ns), a 1 for 13 (812 ns). The next byte is fetched in the
 * pauses of each last bit, so that no low is longer than another. */
static void send_bits(const uint8_t *bytes, uint16_t count, uint8_t high, uint8_t low) {
    uint8_t bits = 7;
    uint8_t byte = *bytes++;
    uint8_t next;
    if (count == 0) {
        return;
    }
    __asm__ volatile("1: out %[port], %[high]\n" /* cycle 0: the line is high */
                     "   nop\n nop\n nop\n nop\n"
                     "   sbrs %[byte], 7\n"
                     "   out %[port], %[low]\n" /* 6: low, for a 0 */
                     "   lsl %[byte]\n"
                     "   nop\n nop\n nop\n nop\n nop\n"
                     "   out %[port], %[low]\n" /* 13: low, for a 1 */
                     "   nop\n nop\n nop\n"
                     "   dec %[bits]\n"
                     "   brne 1b\n" /* 19 */
                     "   nop\n"
                     "   out %[port], %[high]\n" /* 20: the last bit of the byte */
                     "   ld %[next], %a[bytes]+\n"
                     "   nop\n nop\n"
                     "   sbrs %[byte], 7\n"
                     "   out %[port], %[low]\n"
                     "   mov %[byte], %[next]\n"
                     "   ldi %[bits], 7\n"
                     "   sbiw %[count], 1\n"
                     "   nop\n nop\n"
                     "   out %[port], %[low]\n"
                     "   nop\n nop\n nop\n nop\n"
                     "   brne 1b\n"
                     : [bits] "+d"(bits), [byte] "+r"(byte), [next] "=&r"(next), [count] "+w"(count), [bytes] "+e"(bytes)
                     : [port] "I"(_SFR_IO_ADDR(PORTB)), [high] "r"(high), [low] "r"(low)
                     : "memory");
}

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    for (uint8_t i = 0; i < count; i++) {
        uint8_t mask = (uint8_t)(1u << list[i].output->pin);
        uint8_t flags = SREG;
        DDRB |= mask;
#ifdef BOARD_TRACE /* tells the emulator what is sent: its address in two scratch registers, then the pin in the third */
        GPIOR1 = (uint8_t)((uint16_t)list[i].bytes >> 8);
        GPIOR2 = (uint8_t)(uint16_t)list[i].bytes;
        GPIOR0 = mask;
#endif
        cli();
        send_bits(list[i].bytes, (uint16_t)list[i].count, PORTB | mask, PORTB & (uint8_t)~mask);
        SREG = flags;
    }
    sent_us = board_us();
    return GLANZ_OK;
}

static int busy(void *user) { /* the loop is over when start returns; what is left is the chips' reset */
    (void)user;
    return board_us() - sent_us < RESET_US;
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
