/* SPDX-License-Identifier: MIT */
/* ESP32: lines by RMT, store in a partition, edges by interrupts, a microphone by I2S. */
#include <string.h>

#include "driver/gpio.h"
#include "driver/i2s_std.h"
#include "driver/rmt_encoder.h"
#include "driver/rmt_tx.h"
#include "esp_partition.h"
#include "esp_timer.h"

#include <glanz/esp32.h>

#define TICKS_HZ 20000000u /* of 50 ns */
#define TICK_NS 50u
#define SECTOR 4096u

struct line {
    rmt_channel_handle_t channel;
    rmt_encoder_handle_t encoder; /* a byte's bits as pulses of the chip's times: the driver's own */
};

static GLANZ_CONST struct glanz_rig *the_rig;
static struct glanz_device *the_device;
static struct line lines[GLANZ_ESP32_LINES];
static struct glanz_sending_timer timer;

static glanz_status wrong(struct glanz_fault *fault, const char *list, const char *name, glanz_status status,
                          const char *expected) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, list);
    glanz_fault_at(fault, name);
    glanz_fault_add(fault, expected);
    return status;
}

static uint32_t now_us(void) {
    return (uint32_t)esp_timer_get_time();
}

/* ---- lines ---- */

static rmt_symbol_word_t pulse(uint32_t high_ns, uint32_t low_ns) {
    rmt_symbol_word_t symbol;
    memset(&symbol, 0, sizeof symbol);
    symbol.level0 = 1;
    symbol.duration0 = (uint16_t)((high_ns + TICK_NS / 2u) / TICK_NS) & 0x7FFFu;
    symbol.level1 = 0;
    symbol.duration1 = (uint16_t)((low_ns + TICK_NS / 2u) / TICK_NS) & 0x7FFFu;
    return symbol;
}

static glanz_status begin_line(struct line *line, GLANZ_CONST struct glanz_output *output, struct glanz_fault *fault) {
    struct glanz_timing times;
    rmt_tx_channel_config_t channel;
    rmt_bytes_encoder_config_t bytes;
    if (glanz_output_timing(output, &times) != GLANZ_OK) {
        return wrong(fault, "outputs", output->name, GLANZ_ERR_RIG, "expected a one-wire line of chips whose times agree");
    }
    memset(&channel, 0, sizeof channel);
    channel.gpio_num = (gpio_num_t)output->pin;
    channel.clk_src = RMT_CLK_SRC_DEFAULT;
    channel.resolution_hz = TICKS_HZ;
    channel.mem_block_symbols = 64;
    channel.trans_queue_depth = 1;
    memset(&bytes, 0, sizeof bytes);
    bytes.bit0 = pulse(times.zero_high, times.zero_low);
    bytes.bit1 = pulse(times.one_high, times.one_low);
    bytes.flags.msb_first = 1;
    if (rmt_new_tx_channel(&channel, &line->channel) != ESP_OK || rmt_new_bytes_encoder(&bytes, &line->encoder) != ESP_OK ||
        rmt_enable(line->channel) != ESP_OK) {
        return wrong(fault, "outputs", output->name, GLANZ_ERR_PORT,
                     "the driver gave no transmitter; expected a free one and a pin that can send");
    }
    return GLANZ_OK;
}

glanz_status glanz_esp32_begin(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    the_rig = rig;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        if (o == GLANZ_ESP32_LINES) {
            return wrong(fault, "outputs", rig->outputs[o].name, GLANZ_ERR_RIG, "expected at most 8 outputs");
        }
        glanz_status status = begin_line(&lines[o], &rig->outputs[o], fault);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    return GLANZ_OK;
}

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    static const rmt_transmit_config_t once = {0};
    (void)user;
    for (uint8_t i = 0; i < count; i++) { /* some microseconds one after another: the peripheral begins at once */
        struct line *line = &lines[list[i].output - the_rig->outputs];
        if (rmt_transmit(line->channel, line->encoder, list[i].bytes, list[i].count, &once) != ESP_OK) {
            return GLANZ_ERR_PORT;
        }
    }
    glanz_sending_begin(&timer, list, count, now_us());
    return GLANZ_OK;
}

/* The driver refills the transmitter's memory by interrupts: it may be late, so it is asked. */
static int busy(void *user) {
    (void)user;
    if (glanz_sending_runs(&timer, now_us())) {
        return 1;
    }
    for (uint8_t o = 0; o < the_rig->output_count; o++) {
        if (rmt_tx_wait_all_done(lines[o].channel, 0) != ESP_OK) {
            return 1;
        }
    }
    return 0;
}

static void stop(void *user) {
    (void)user;
    for (uint8_t o = 0; o < the_rig->output_count; o++) {
        (void)rmt_disable(lines[o].channel);
        (void)rmt_enable(lines[o].channel);
    }
}

static uint32_t time_us(void *user) {
    (void)user;
    return now_us();
}

const struct glanz_port glanz_esp32_port = {.version = 2, .start = start, .busy = busy, .stop = stop, .time_us = time_us};

/* ---- the store ---- */

static glanz_status read_partition(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    return esp_partition_read((const esp_partition_t *)user, at, bytes, count) == ESP_OK ? GLANZ_OK : GLANZ_ERR_PORT;
}

static glanz_status program_partition(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    return esp_partition_write((const esp_partition_t *)user, at, bytes, count) == ESP_OK ? GLANZ_OK : GLANZ_ERR_PORT;
}

static glanz_status erase_sector(void *user, uint32_t sector) {
    return esp_partition_erase_range((const esp_partition_t *)user, sector * SECTOR, SECTOR) == ESP_OK ? GLANZ_OK
                                                                                                       : GLANZ_ERR_PORT;
}

glanz_status glanz_esp32_medium(struct glanz_medium *medium, const char *partition) {
    const esp_partition_t *found =
        medium == NULL || partition == NULL
            ? NULL
            : esp_partition_find_first(ESP_PARTITION_TYPE_DATA, ESP_PARTITION_SUBTYPE_ANY, partition);
    if (found == NULL || found->size < 2u * SECTOR) {
        return medium == NULL || partition == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
    }
    memset(medium, 0, sizeof *medium);
    medium->version = 1;
    medium->user = (void *)(uintptr_t)found;
    medium->sector_bytes = SECTOR;
    medium->sectors = (uint16_t)(found->size / SECTOR);
    medium->unit = 4;
    medium->program_us = 700; /* the cache is off meanwhile: nothing else runs */
    medium->erase_us = 60000;
    medium->read = read_partition;
    medium->program = program_partition;
    medium->erase = erase_sector;
    return GLANZ_OK;
}

/* ---- inputs ---- */

static void edge(void *argument) { /* in an interrupt */
    uint8_t i = (uint8_t)(uintptr_t)argument;
    GLANZ_CONST struct glanz_input *input = &the_rig->inputs[i];
    uint16_t value = (uint16_t)(gpio_get_level((gpio_num_t)input->pin) & 1);
    if (input->kind == GLANZ_INPUT_KNOB) {
        value = (uint16_t)(value | (gpio_get_level((gpio_num_t)input->second_pin) & 1) << 1);
    }
    (void)glanz_device_push(the_device, i, value, now_us());
}

static int watch(uint8_t pin, uint8_t input, int pulled_up) {
    gpio_config_t config;
    memset(&config, 0, sizeof config);
    config.pin_bit_mask = (uint64_t)1 << pin;
    config.mode = GPIO_MODE_INPUT;
    config.pull_up_en = pulled_up ? GPIO_PULLUP_ENABLE : GPIO_PULLUP_DISABLE;
    config.pull_down_en = pulled_up ? GPIO_PULLDOWN_DISABLE : GPIO_PULLDOWN_ENABLE;
    config.intr_type = GPIO_INTR_ANYEDGE;
    return gpio_config(&config) == ESP_OK && gpio_isr_handler_add((gpio_num_t)pin, edge, (void *)(uintptr_t)input) == ESP_OK;
}

glanz_status glanz_esp32_attach(struct glanz_device *device) {
    esp_err_t installed = gpio_install_isr_service(0);
    the_device = device;
    if (installed != ESP_OK && installed != ESP_ERR_INVALID_STATE) { /* that: somebody else has done it */
        return GLANZ_ERR_PORT;
    }
    for (uint8_t i = 0; i < the_rig->input_count; i++) {
        GLANZ_CONST struct glanz_input *input = &the_rig->inputs[i];
        int knob = input->kind == GLANZ_INPUT_KNOB;
        if ((knob || input->kind == GLANZ_INPUT_BUTTON) &&
            (!watch(input->pin, i, knob || input->pressed_low) || (knob && !watch(input->second_pin, i, 1)))) {
            return GLANZ_ERR_PORT;
        }
    }
    return GLANZ_OK;
}

void glanz_esp32_listen(struct glanz_sound *sound, void *channel) {
    int32_t words[64];
    int16_t samples[64];
    size_t count = 0;
    while (i2s_channel_read((i2s_chan_handle_t)channel, words, sizeof words, &count, 0) == ESP_OK && count != 0) {
        for (size_t i = 0; i < count / 4u; i++) {
            samples[i] = (int16_t)(words[i] >> 16);
        }
        (void)glanz_sound_push(sound, samples, count / 4u, 1, now_us());
    }
}
