package org.juratest.server.web;

import com.fasterxml.jackson.annotation.JsonSetter;
import com.fasterxml.jackson.annotation.Nulls;
import java.time.Clock;
import java.util.List;
import java.util.Set;
import org.juratest.formats.json.CoreJson;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.converter.HttpMessageConverters;
import org.springframework.http.converter.json.JacksonJsonHttpMessageConverter;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** The API speaks JSON as core types are stored, and refuses fields it does not know and lists with empty elements. */
@Configuration(proxyBeanMethods = false)
class WebConfiguration {

    @Bean
    JsonMapperBuilderCustomizer coreJson() {
        return builder -> CoreJson.configured(builder).enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES);
    }

    /** What is stored may hold what was taken before there was a rule; only what comes in is held to it. */
    @Bean
    WebMvcConfigurer noEmptyElements(JsonMapper mapper) {
        JsonSetter.Value whole = JsonSetter.Value.construct(Nulls.AS_EMPTY, Nulls.FAIL);
        JsonMapper strict = mapper.rebuild()
                .withConfigOverride(List.class, o -> o.setNullHandling(whole))
                .withConfigOverride(Set.class, o -> o.setNullHandling(whole))
                .build();
        return new WebMvcConfigurer() {
            @Override
            public void configureMessageConverters(HttpMessageConverters.ServerBuilder converters) {
                converters.withJsonConverter(new JacksonJsonHttpMessageConverter(strict));
            }
        };
    }

    @Bean
    Clock clock() {
        return Clock.systemUTC();
    }
}
