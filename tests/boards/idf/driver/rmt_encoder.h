/* A stand-in, with just what ports/esp32 uses of that header. */
#ifndef DRIVER_RMT_ENCODER_H
#define DRIVER_RMT_ENCODER_H
#include "esp_err.h"
typedef union {
    struct {
        uint16_t duration0 : 15;
        uint16_t level0    : 1;
        uint16_t duration1 : 15;
        uint16_t level1    : 1;
    };
    uint32_t val;
} rmt_symbol_word_t;
typedef struct rmt_encoder_t *rmt_encoder_handle_t;
typedef struct {
    rmt_symbol_word_t bit0, bit1;
    struct {
        uint32_t msb_first : 1;
    } flags;
} rmt_bytes_encoder_config_t;
esp_err_t rmt_new_bytes_encoder(const rmt_bytes_encoder_config_t *config, rmt_encoder_handle_t *ret_encoder);
#endif
