package org.juratest.server.asset;

import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Assets with their life. */
@RestController
@RequestMapping("/api/assets")
class AssetController {

    private final AssetLife life;

    AssetController(AssetLife life) {
        this.life = life;
    }

    /** An asset by its id, or by the position it stands at now. */
    @GetMapping("/{key}")
    AssetLife.AssetView one(@PathVariable String key) {
        return life.of(key);
    }
}
