/* SPDX-License-Identifier: MIT */
/* Inputs. Buttons and encoders: an interrupt at each edge. Dials, sensors and the microphone: the ADC reads all of their pins
 * in turn, each 16,000 times a second; two DMA channels fill two halves of 4 ms by turns, and an interrupt takes what is full.
 * A half is a power of two of bytes, at such an address, and the DMA goes round in it by itself: while the flash is erased no
 * interrupt would. */
#include "board.h"

#define ADC_PINS 4u
#define FIRST_ADC_PIN 26u
#define NOBODY 255u
#define TEMPERATURE 4u /* an input of the ADC that is no pin */
#define QUIET 24u      /* readings of 16 bits that differ less than this are the same: noise of 12 bits */

struct reading { /* an ADC pin in use */
    uint8_t input;
    uint8_t sound;
    uint8_t told; /* 0: nobody has heard of it yet */
    uint16_t last;
};

static GLANZ_CONST struct glanz_rig *the_rig;
static struct glanz_device *the_device;
static struct glanz_sound *the_sound;
static void (*the_watch)(uint8_t input, uint16_t value, uint32_t time_us);
static uint8_t input_of[32]; /* by pin: input + 1; 0: none */
static struct reading readings[ADC_PINS];
static uint32_t reading_count; /* 1, 2 or 4: with three pins the chip's own temperature is the fourth, for nobody */
static uint16_t samples[2][ADC_PINS * GLANZ_RP2040_TICK_SAMPLES]
    __attribute__((aligned(2 * ADC_PINS * GLANZ_RP2040_TICK_SAMPLES)));

static void push(uint8_t input, uint16_t value, uint32_t time_us) {
    if (the_device != NULL) {
        (void)glanz_device_push(the_device, input, value, time_us);
    }
    if (the_watch != NULL) {
        the_watch(input, value, time_us);
    }
}

/* ---- edges ---- */

static void watch_pin(uint8_t pin, uint8_t input, int pulled_up) {
    glanz_rp2040_pin(pin, FUNCTION_SIO, PAD_INPUT | PAD_SCHMITT | PAD_NO_OUTPUT | (pulled_up ? PAD_PULL_UP : PAD_PULL_DOWN));
    input_of[pin] = (uint8_t)(input + 1u);
    REGISTER(IO_BANK0, IO_INTR(pin)) = (IO_EDGE_LOW | IO_EDGE_HIGH) << pin % 8u * 4u;
    SET_BITS(IO_BANK0, IO_PROC0_INTE(pin)) = (IO_EDGE_LOW | IO_EDGE_HIGH) << pin % 8u * 4u;
}

static void edge_of(uint8_t pin, uint32_t edges, uint32_t now) {
    uint8_t input = (uint8_t)(input_of[pin] - 1u);
    uint32_t levels = REGISTER(SIO, SIO_GPIO_IN);
    GLANZ_CONST struct glanz_input *it = &the_rig->inputs[input];
    if (it->kind == GLANZ_INPUT_KNOB) {
        push(input, (uint16_t)((levels >> it->pin & 1u) | (levels >> it->second_pin & 1u) << 1), now);
        return;
    }
    uint16_t level = (uint16_t)(levels >> pin & 1u);
    if (edges == (IO_EDGE_LOW | IO_EDGE_HIGH)) { /* there and back since the last look */
        push(input, level ^ 1u, now);
    }
    push(input, level, now);
}

void glanz_rp2040_edge(void) {
    uint32_t now = glanz_rp2040_us();
    for (uint8_t pin = 0; pin < 24; pin += 8) {
        uint32_t events = REGISTER(IO_BANK0, IO_PROC0_INTS(pin));
        REGISTER(IO_BANK0, IO_INTR(pin)) = events;
        for (uint8_t i = 0; events != 0; i++, events >>= 4) {
            if ((events & 15u) != 0 && input_of[pin + i] != 0) {
                edge_of((uint8_t)(pin + i), events & 15u, now);
            }
        }
    }
}

/* ---- the ADC ---- */

static void take_sound(const uint16_t *from, uint32_t now) {
    int16_t sound[GLANZ_RP2040_TICK_SAMPLES];
    for (uint32_t i = 0; i < GLANZ_RP2040_TICK_SAMPLES; i++) {
        sound[i] = (int16_t)(((int32_t)(from[i * reading_count] & 4095u) - 2048) * 16); /* the rest is worked off as DC */
    }
    if (the_sound != NULL) {
        (void)glanz_sound_push(the_sound, sound, GLANZ_RP2040_TICK_SAMPLES, 1, now);
    }
}

static void take_reading(struct reading *reading, const uint16_t *from, uint32_t now) {
    uint32_t sum = 0;
    for (uint32_t i = 0; i < GLANZ_RP2040_TICK_SAMPLES; i++) {
        sum += from[i * reading_count] & 4095u;
    }
    uint16_t value = (uint16_t)(sum * 16u / GLANZ_RP2040_TICK_SAMPLES);
    uint16_t apart = (uint16_t)(value > reading->last ? value - reading->last : reading->last - value);
    if (apart >= QUIET || !reading->told) {
        reading->told = 1;
        reading->last = value;
        push(reading->input, value, now);
    }
}

void glanz_rp2040_samples_are_there(void) {
    uint32_t now = glanz_rp2040_us();
    uint32_t full = REGISTER(DMA, DMA_INTS0) >> CHANNEL_ADC & 3u;
    REGISTER(DMA, DMA_INTS0) = full << CHANNEL_ADC;
    for (uint32_t half = 0; half < 2; half++) {
        if ((full & 1u << half) != 0) {
            for (uint32_t i = 0; i < reading_count; i++) {
                if (readings[i].sound) {
                    take_sound(&samples[half][i], now);
                } else if (readings[i].input != NOBODY) {
                    take_reading(&readings[i], &samples[half][i], now);
                }
            }
        }
    }
}

static void begin_adc(uint32_t pins) {
    for (uint8_t i = 0; i < ADC_PINS; i++) {
        if ((pins & 1u << i) != 0) {
            glanz_rp2040_pin((uint8_t)(FIRST_ADC_PIN + i), FUNCTION_NONE,
                             PAD_NO_OUTPUT); /* neither pulled nor read as 0 or 1 */
        }
    }
    if (reading_count == 3) {
        struct reading nothing = {NOBODY, 0, 0, 0};
        readings[reading_count++] = nothing;
        pins |= 1u << TEMPERATURE;
    }
    uint32_t ring = 7; /* 64 readings of 2 bytes, for each pin */
    for (uint32_t count = 1; count < reading_count; count *= 2) {
        ring++;
    }
    uint32_t first = 0;
    while ((pins & 1u << first) == 0) {
        first++;
    }
    REGISTER(ADC, ADC_CS) = 2u | 1u; /* on, the temperature too */
    REGISTER(ADC, ADC_DIV) = (48000000u / (16000u * reading_count) - 1u) << 8;
    REGISTER(ADC, ADC_FCS) = 1u << 24 | 1u << 3 | 1u; /* a request for each reading */
    for (uint32_t half = 0; half < 2; half++) {
        uint32_t channel = CHANNEL_ADC + half;
        REGISTER(DMA, DMA_READ(channel)) = ADC + ADC_FIFO;
        REGISTER(DMA, DMA_WRITE(channel)) = (uint32_t)(uintptr_t)samples[half];
        REGISTER(DMA, DMA_COUNT(channel)) = reading_count * GLANZ_RP2040_TICK_SAMPLES;
        REGISTER(DMA, DMA_CTRL(channel)) = DMA_REQUEST(36u) | DMA_CHAIN(CHANNEL_ADC + 1u - half) | DMA_RING_WRITE(ring) |
                                           DMA_WRITE_ON | DMA_HALVES | DMA_ENABLE;
    }
    REGISTER(DMA, DMA_INTE0) = 3u << CHANNEL_ADC;
    REGISTER(NVIC_ENABLE, 0) = 1u << IRQ_DMA0;
    REGISTER(DMA, DMA_TRIGGER) = 1u << CHANNEL_ADC;
    REGISTER(ADC, ADC_CS) = pins << 16 | first << 12 | 8u | 2u | 1u; /* all of them in turn, for ever */
}

/* ---- both ---- */

glanz_status glanz_rp2040_begin_inputs(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    uint32_t taken = 0;
    uint32_t analog = 0;
    uint8_t input_at[ADC_PINS] = {0, 0, 0, 0};
    the_rig = rig;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        GLANZ_CONST struct glanz_input *input = &rig->inputs[i];
        uint32_t wanted = 1u << (input->pin & 31u) | (input->kind == GLANZ_INPUT_KNOB ? 1u << (input->second_pin & 31u) : 0);
        if (input->kind == GLANZ_INPUT_VALUE) {
            continue;
        }
        if (input->kind == GLANZ_INPUT_BUTTON || input->kind == GLANZ_INPUT_KNOB) {
            if (input->pin > 31 || input->second_pin > 31 || (wanted & 3u) != 0 || (wanted >> 23) != 0 ||
                (taken & wanted) != 0) {
                return glanz_rp2040_wrong_pin(fault, "inputs", input->name, input->pin, "one of 2 to 22 that nothing else has");
            }
            watch_pin(input->pin, i, input->kind == GLANZ_INPUT_KNOB || input->pressed_low);
            if (input->kind == GLANZ_INPUT_KNOB) {
                watch_pin(input->second_pin, i, 1);
            }
        } else {
            if (input->pin < FIRST_ADC_PIN || input->pin >= FIRST_ADC_PIN + ADC_PINS || (taken & wanted) != 0) {
                return glanz_rp2040_wrong_pin(fault, "inputs", input->name, input->pin,
                                              "one of 26 to 29 that nothing else has");
            }
            analog |= 1u << (input->pin - FIRST_ADC_PIN);
            input_at[input->pin - FIRST_ADC_PIN] = i;
        }
        taken |= wanted;
    }
    reading_count = 0;
    for (uint32_t i = 0; i < ADC_PINS; i++) {
        if ((analog & 1u << i) != 0) {
            struct reading reading = {input_at[i], rig->inputs[input_at[i]].kind == GLANZ_INPUT_SOUND, 0, 0};
            readings[reading_count++] = reading;
        }
    }
    REGISTER(NVIC_ENABLE, 0) = 1u << IRQ_IO_BANK0;
    if (analog != 0) {
        begin_adc(analog);
    }
    return GLANZ_OK;
}

glanz_status glanz_rp2040_begin(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    glanz_status status = glanz_rp2040_begin_lines(rig, fault);
    return status == GLANZ_OK ? glanz_rp2040_begin_inputs(rig, fault) : status;
}

void glanz_rp2040_attach(struct glanz_device *device, struct glanz_sound *sound) {
    __asm__ volatile("cpsid i" ::: "memory");
    the_sound = sound;
    the_device = device;
    for (uint32_t i = 0; i < reading_count; i++) {
        readings[i].told = 0; /* where the dials stand now */
    }
    __asm__ volatile("cpsie i" ::: "memory");
}

void glanz_rp2040_watch(void (*pushed)(uint8_t input, uint16_t value, uint32_t time_us)) {
    the_watch = pushed;
}
