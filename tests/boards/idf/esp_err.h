/* A stand-in, with just what ports/esp32 uses of that header. */
#ifndef ESP_ERR_H
#define ESP_ERR_H
#include <stddef.h>
#include <stdint.h>
typedef int esp_err_t;
#define ESP_OK 0
#define ESP_ERR_INVALID_STATE 0x103
#endif
