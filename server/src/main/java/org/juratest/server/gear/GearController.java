package org.juratest.server.gear;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Test gear. */
@RestController
@RequestMapping("/api/gear")
class GearController {

    private final GearStore gear;

    GearController(GearStore gear) {
        this.gear = gear;
    }

    @GetMapping
    List<GearStore.Gear> all() {
        return gear.all();
    }
}
