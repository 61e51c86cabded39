package org.juratest.server.web;

import java.time.Clock;
import org.juratest.formats.json.CoreJson;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import tools.jackson.databind.DeserializationFeature;

/** The API speaks JSON as core types are stored, and refuses fields it does not know. */
@Configuration(proxyBeanMethods = false)
class WebConfiguration {

    @Bean
    JsonMapperBuilderCustomizer coreJson() {
        return builder -> CoreJson.configured(builder).enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES);
    }

    @Bean
    Clock clock() {
        return Clock.systemUTC();
    }
}
