/* SPDX-License-Identifier: MIT */
/* WS2812B and its kin on port B of an ATmega at 16 MHz. */
#ifdef __AVR__
#include <avr/interrupt.h>
#include <avr/io.h>

#include <glanz/avr.h>

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

void glanz_avr_send(const struct glanz_sending *list, uint8_t count) {
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
}
#else
typedef int glanz_avr_only; /* a translation unit needs a declaration */
#endif
