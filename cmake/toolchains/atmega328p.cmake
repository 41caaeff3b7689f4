# ATmega328P: avr-gcc.
set(CMAKE_SYSTEM_NAME Generic)
set(CMAKE_SYSTEM_PROCESSOR avr)
set(CMAKE_C_COMPILER avr-gcc)
set(CMAKE_CXX_COMPILER avr-g++)
set(CMAKE_C_FLAGS_INIT "-mmcu=atmega328p -DF_CPU=16000000UL -ffunction-sections -fdata-sections")
set(CMAKE_CXX_FLAGS_INIT "-mmcu=atmega328p -DF_CPU=16000000UL -ffunction-sections -fdata-sections -fno-exceptions")
set(CMAKE_EXE_LINKER_FLAGS_INIT "-mmcu=atmega328p -Wl,--gc-sections")
set(CMAKE_TRY_COMPILE_TARGET_TYPE STATIC_LIBRARY)
